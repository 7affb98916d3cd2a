<script lang="ts">
  import type { AgentSummary } from '../api/client';

  /** What an agent did in the last seven days, in numbers that say what they count. */
  let { lately }: { lately: AgentSummary['lately'] } = $props();

  /** Small amounts with as many digits as tell something. */
  const amount = (cost: number): string => (cost >= 1 ? cost.toFixed(2) : String(Number(cost.toPrecision(2))));

  const counts = $derived([
    [lately.runs, lately.runs === 1 ? 'run' : 'runs', false],
    [lately.alone, 'settled alone', false],
    [lately.asked, 'asked people', false],
    [lately.refused, 'refused', lately.refused > 0],
    [lately.troubled, 'in trouble', lately.troubled > 0],
    [lately.tokens.toLocaleString('en-GB'), 'tokens', false],
    ...(typeof lately.cost === 'number' ? [[amount(lately.cost), lately.currency, false] as const] : []),
  ] as const);
</script>

{#if lately.runs === 0}
  <p class="mt-3 border-t border-line pt-2 text-sm text-faint">No run in the last seven days that you see.</p>
{:else}
  <dl class="mt-3 flex flex-wrap gap-x-5 gap-y-1 border-t border-line pt-2 text-sm">
    {#each counts as [count, words, meant] (words)}
      <div class="flex flex-row-reverse gap-1.5">
        <dt class="text-faint">{words}</dt>
        <dd class={['font-semibold', meant && 'text-signal']}>{count}</dd>
      </div>
    {/each}
  </dl>
{/if}
