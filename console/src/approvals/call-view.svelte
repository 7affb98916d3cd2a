<script lang="ts">
  import type { ApprovalSheet } from '../api/client';

  let { call, why }: { call: NonNullable<ApprovalSheet['sheet']['call']>; why: string } = $props();

  const EFFECTS = { read: 'reads only', write: 'changes something outside', once: 'changes something outside, and can’t be repeated' };
</script>

<section class="sheet p-4" aria-labelledby="will-happen">
  <h2 id="will-happen" class="mb-1">What exactly will happen</h2>
  <p class="mb-3">
    <span class="font-mono">{call.tool}</span> <span class="text-faint">({EFFECTS[call.effect ?? 'once']})</span><br />
    {call.description}
  </p>
  <table class="w-full border-t border-line">
    <thead class="text-left text-sm text-faint"><tr><th class="py-1 font-normal">Input</th><th class="font-normal">Value</th><th class="font-normal">Comes from</th></tr></thead>
    <tbody>
      {#each Object.entries(call.inputs) as [name, value] (name)}
        <tr class="border-t border-line">
          <td class="py-1 pr-3 text-faint">{name}</td>
          <td class="pr-3 font-semibold break-all">{typeof value === 'object' ? JSON.stringify(value) : String(value)}</td>
          <td class={call.origins[name]?.includes('model') ? 'text-signal' : ''}>{call.origins[name]?.join(', ')}
            {#if call.places?.[name]}<span class="font-mono text-sm text-faint">{call.places[name]}</span>{/if}</td>
        </tr>
      {/each}
    </tbody>
  </table>
  <p class="mt-3 text-sm text-faint">Asked because {why}.</p>
</section>
