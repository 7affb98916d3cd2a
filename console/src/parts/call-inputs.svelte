<script lang="ts">
  import type { ProposedCall } from './call';

  /** The inputs of a call, each with its origins and the place it was read from. */
  let { call }: { call: ProposedCall } = $props();
</script>

<table class="w-full border-t border-line">
  <thead class="text-left text-sm text-faint"><tr><th class="py-1 font-normal">Input</th><th class="font-normal">Value</th><th class="font-normal">Comes from</th></tr></thead>
  <tbody>
    {#each Object.entries(call.inputs) as [name, value] (name)}
      <tr class="border-t border-line">
        <td class="py-1 pr-3 text-faint">{name}</td>
        <td class="pr-3 font-semibold wrap-anywhere">{typeof value === 'object' ? JSON.stringify(value) : String(value)}</td>
        <td class={call.origins[name]?.includes('model') ? 'text-signal' : ''}>{call.origins[name]?.join(', ')}
          {#if call.places?.[name]}<span class="font-mono text-sm text-faint">{call.places[name]}</span>{/if}</td>
      </tr>
    {/each}
  </tbody>
</table>
