<script lang="ts">
  import type { PlanLine } from '../api/client';
  import ValueView from '../parts/value-view.svelte';

  /** One line of a plan: what is done, with which tool, what it is given, and how often. Earlier plans were words alone. */
  let { step }: { step: PlanLine | string } = $props();

  const line = $derived<PlanLine>(typeof step === 'string' ? { does: step } : step);
  const acts = $derived(line.effect !== undefined && line.effect !== 'read');
</script>

{line.does}
{#if line.tool}
  <div class={['mt-1 border-l-4 pl-3', acts ? 'border-l-signal' : 'border-l-line']}>
    <p class="text-sm">
      <span class="font-semibold">{line.title}</span>
      <span class="font-mono text-faint">{line.tool}</span>
      {acts ? 'changes something' : 'only looks'},
      {line['at-most'] === 1 ? 'once' : `at most ${line['at-most']} times`}
    </p>
    {#if Object.keys(line.with ?? {}).length}<ValueView value={line.with} />{/if}
    {#if line['chosen-later']?.length}<p class="text-sm text-faint">
        Chosen when it comes to it: {line['chosen-later'].join(', ')}
      </p>{/if}
  </div>
{/if}
