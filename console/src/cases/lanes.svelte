<script lang="ts">
  import type { Lanes, Run } from '../api/client';
  import { callOf, newDay, shownMarks } from './lanes';
  import LaneMark from './lane-mark.svelte';
  import RunLine from './run-line.svelte';

  let { caseId, lanes, marks, runs, onChanged }: Lanes & { caseId: string; runs: Run[]; onChanged: () => void } = $props();

  let all = $state(false);
  const shown = $derived(shownMarks(marks, all));
</script>

<section aria-labelledby="lanes">
  <div class="mb-2 flex items-baseline gap-4">
    <h2 id="lanes">Who did what</h2>
    <label class="flex items-center gap-2 text-sm text-faint"><input type="checkbox" bind:checked={all} /> every step</label>
  </div>
  {#each runs as run (run.id)}<RunLine {run} {onChanged} />{/each}
  <div class="sheet">
    <div class="grid grid-cols-[4.5rem_0.8fr_1fr_1.3fr_3.2rem] border-b border-line py-1 text-sm text-faint" aria-hidden="true">
      <span></span>
      {#each lanes as lane (lane)}<span class={lane === 'people' ? '-ml-2' : 'pl-1'}>{lane}</span>{/each}
    </div>
    <ol class="pb-2">
      {#each shown as mark, index (mark.seq)}
        {@const date = newDay(mark, shown[index - 1])}
        {#if date}<li class="px-2 pt-1 text-sm font-semibold text-faint">{date}</li>{/if}
        <LaneMark {mark} {caseId} lane={lanes.indexOf(mark.lane)} call={callOf(marks, mark)} />
      {/each}
    </ol>
  </div>
</section>
