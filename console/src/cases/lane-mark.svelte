<script lang="ts">
  import type { Mark } from '../api/client';
  import { linkTo, told, type FoundAt } from '../documents/found';
  import type { ProposedCall } from '../parts/call';
  import CallInputs from '../parts/call-inputs.svelte';
  import Material from '../parts/material.svelte';
  import MachineMark from '../parts/machine-mark.svelte';
  import ValueView from '../parts/value-view.svelte';
  import { clock, exact } from '../parts/when';

  let {
    mark,
    caseId,
    column,
    of,
    widths,
    call,
  }: { mark: Mark; caseId: string; column: number; of: number; widths: string; call: ProposedCall | undefined } = $props();

  /** Where in a document values were found, of a mark that says so. */
  const found = $derived(
    mark.what === 'document-used' ? Object.entries((mark.data as { places?: Record<string, FoundAt> } | null)?.places ?? {}) : [],
  );

  let open = $state(false);
  const material = $derived(Boolean((mark.data as { material?: string } | null)?.material));
  /** The words run on to the right of their dot; those of the last lane stand to its left. */
  const last = $derived(column === of - 1);
</script>

<li>
  <div class="grid items-stretch" style:grid-template-columns={widths}>
    {#each { length: of }, index}
      <span class="pointer-events-none row-start-1 ml-[0.8rem] border-l border-line" style:grid-column={index + 2} aria-hidden="true"
      ></span>
    {/each}
    <time class="row-start-1 py-1 pl-2 text-sm text-faint" datetime={mark.at} title={exact(mark.at)}>{clock(mark.at)}</time>
    <span
      class={['row-start-1 mt-[0.65rem] ml-[0.5rem] h-2.5 w-2.5 rounded-full', mark.weight === 'needs-person' ? 'bg-signal' : 'bg-accent']}
      style:grid-column={column + 2}
      aria-hidden="true"
    ></span>
    <button
      class={['row-start-1 min-w-0 cursor-pointer py-1 text-left wrap-anywhere', last ? 'justify-self-end pr-1' : 'pl-[1.6rem]']}
      style:grid-column={last ? `2 / ${of + 1}` : `${column + 2} / ${of + 2}`}
      aria-expanded={open}
      onclick={() => (open = !open)}
    >
      <span class="bg-sheet box-decoration-clone px-1 hover:underline"
        ><span class="sr-only">{mark.lane === 'agent' ? mark.actor.name : mark.lane}: </span>{mark.title}</span
      >
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
