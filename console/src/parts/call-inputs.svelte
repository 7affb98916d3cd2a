<script lang="ts">
  import { linkTo, told } from '../documents/found';
  import type { ProposedCall } from './call';
  import { money, said } from './said';

  /** The inputs of a call, each with its origins and the place it was read from. */
  let { call, caseId = '', currency = '' }: { call: ProposedCall; caseId?: string; currency?: string } = $props();

  function isAmount(name: string, value: unknown): value is number {
    return typeof value === 'number' && currency !== '' && (call.amounts ?? []).includes(name);
  }
</script>

<table class="w-full border-t border-line">
  <thead class="max-sm:sr-only text-left text-sm text-faint"
    ><tr><th class="py-1 font-normal">Input</th><th class="font-normal">Value</th><th class="font-normal">Comes from</th></tr></thead
  >
  <tbody>
    {#each Object.entries(call.inputs) as [name, value] (name)}
      <tr class="border-t border-line max-sm:grid max-sm:grid-cols-[6rem_minmax(0,1fr)]">
        <td class="py-1 pr-3 text-faint">{name}</td>
        <td class="pr-3 font-semibold max-sm:py-1 wrap-anywhere"
          >{typeof value === 'object' ? JSON.stringify(value) : isAmount(name, value) ? money(value, currency) : said(value)}</td
        >
        <td class={['max-sm:col-start-2 max-sm:pb-1', call.origins[name]?.includes('model') && 'text-signal']}
          >{call.origins[name]?.join(', ')}
          {#if call.places?.[name]}<span class="font-mono text-sm text-faint">{call.places[name]}</span>{/if}
          {#if call.found?.[name] && caseId}<a class="block text-sm" href={linkTo(caseId, call.found[name])}>{told(call.found[name])}</a
            >{/if}</td
        >
      </tr>
    {/each}
  </tbody>
</table>
