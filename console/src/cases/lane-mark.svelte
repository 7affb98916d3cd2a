<script lang="ts">
  import type { Mark } from '../api/client';
  import { linkTo, told, type FoundAt } from '../documents/found';
  import type { ProposedCall } from '../parts/call';
  import CallInputs from '../parts/call-inputs.svelte';
  import Material from '../parts/material.svelte';
  import MachineMark from '../parts/machine-mark.svelte';
  import ValueView from '../parts/value-view.svelte';
  import { clock, exact } from '../parts/when';

  let { mark, caseId, lane, call }: { mark: Mark; caseId: string; lane: number; call: ProposedCall | undefined } = $props();

  /** Where in a document values were found, of a mark that says so. */
  const found = $derived(
    mark.what === 'document-used' ? Object.entries((mark.data as { places?: Record<string, FoundAt> } | null)?.places ?? {}) : [],
  );

  let open = $state(false);
  const material = $derived(Boolean((mark.data as { material?: string } | null)?.material));
  const columns = ['col-start-2', 'col-start-3', 'col-start-4', 'col-start-5'];
  /** The words run on to the right of their dot; those of the last lane stand to its left. */
  const places = ['col-start-2 col-end-6', 'col-start-3 col-end-6', 'col-start-4 col-end-6', 'col-start-2 col-end-5 justify-self-end'];
</script>

<li>
  <div class="grid grid-cols-[4.5rem_0.8fr_1fr_1.3fr_3.2rem] items-stretch">
    {#each columns as column (column)}
      <span class={['pointer-events-none row-start-1 ml-[0.8rem] border-l border-line', column]} aria-hidden="true"></span>
    {/each}
    <time class="row-start-1 py-1 pl-2 text-sm text-faint" datetime={mark.at} title={exact(mark.at)}>{clock(mark.at)}</time>
    <span
      class={[
        'row-start-1 mt-[0.65rem] ml-[0.5rem] h-2.5 w-2.5 rounded-full',
        columns[lane],
        mark.weight === 'needs-person' ? 'bg-signal' : 'bg-accent',
      ]}
      aria-hidden="true"
    ></span>
    <button
      class={['row-start-1 min-w-0 cursor-pointer py-1 text-left wrap-anywhere', places[lane], lane === 3 ? 'pr-1' : 'pl-[1.6rem]']}
      aria-expanded={open}
      onclick={() => (open = !open)}
    >
      <span class="bg-sheet px-1 hover:underline"><span class="sr-only">{mark.lane}: </span>{mark.title}</span>
    </button>
  </div>
  {#if open}
    <div class="border-y border-line bg-paper px-4 py-3 text-sm">
      <p class="mb-1 text-faint">
        {mark.actor.name}{#if mark.step}, at ‘{mark.step}’{/if}, entry {mark.seq} of the trail
        {#if mark.what === 'drafted'}· <MachineMark by={String((mark.data as { model?: string }).model ?? '')} />{/if}
      </p>
      {#if call}<CallInputs {call} {caseId} />{/if}
      {#each found as [name, at] (name)}<p>{name}: <a href={linkTo(caseId, at)}>{told(at)}</a></p>{/each}
      {#if mark.what !== 'call-proposed' && !found.length}<ValueView value={mark.data} />{/if}
      {#if material}<Material seq={mark.seq} what={mark.what === 'transcript' ? 'transcript' : 'prompt'} />{/if}
    </div>
  {/if}
</li>
