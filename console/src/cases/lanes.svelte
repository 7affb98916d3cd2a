<script lang="ts">
  import type { Lanes, Run } from '../api/client';
  import { callOf, columnOf, columnsOf, newDay, shownMarks } from './lanes';
  import LaneMark from './lane-mark.svelte';
  import RunLine from './run-line.svelte';

  let { caseId, lanes, marks, runs, onChanged }: Lanes & { caseId: string; runs: Run[]; onChanged: () => void } = $props();

  const uid = $props.id();
  let all = $state(false);
  const shown = $derived(shownMarks(marks, all));
  const columns = $derived(columnsOf(lanes, marks));
  const widths = $derived(
    ['4.5rem', ...columns.map((column) => ({ requester: '0.8fr', tools: '1.3fr', people: '3.2rem' })[column.lane as string] ?? '1fr')].join(
      ' ',
    ),
  );
</script>

<section aria-labelledby={uid}>
  <div class="mb-2 flex items-baseline gap-4">
    <h2 id={uid}>Who did what</h2>
    <label class="flex items-center gap-2 text-sm text-faint"><input type="checkbox" bind:checked={all} /> every step</label>
  </div>
  {#each runs as run (run.id)}<RunLine {run} by={runs.find((other) => other.id === run.parent)?.agent} {onChanged} />{/each}
  <div class="sheet">
    <div class="grid border-b border-line py-1 text-sm text-faint" style:grid-template-columns={widths} aria-hidden="true">
      <span></span>
      {#each columns as column (column.title)}
        <span class={column.lane === 'people' ? '-ml-2' : 'truncate pl-1'}>{column.title}</span>
      {/each}
    </div>
    <ol class="pb-2">
      {#each shown as mark, index (mark.seq)}
        {@const date = newDay(mark, shown[index - 1])}
        {#if date}<li class="px-2 pt-1 text-sm font-semibold text-faint">{date}</li>{/if}
        <LaneMark {mark} {caseId} column={columnOf(columns, mark)} of={columns.length} {widths} call={callOf(marks, mark)} />
      {/each}
    </ol>
  </div>
</section>
