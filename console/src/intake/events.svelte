<script lang="ts">
  import { api, type Event, type EventPayload } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import ValueView from '../parts/value-view.svelte';
  import When from '../parts/when.svelte';

  /** What systems have posted to an intake, and what became of it. */
  let { intake }: { intake: string } = $props();

  const events = new Loaded(() => api.events(intake));
  $effect(() => events.follow());

  const words: Record<Event['became'], string> = {
    opened: 'opened',
    joined: 'came to',
    counted: 'was counted on',
    known: 'was known, of',
    'left-out': 'left out',
    invalid: 'can’t be taken',
  };
  const shownAtFirst = 8;
  let all = $state(false);
  let opened = $state<EventPayload>();

  async function look(id: string): Promise<void> {
    opened = opened?.event.id === id ? undefined : await api.event(intake, id);
  }
</script>

{#if events.value}
  {@const { events: list, refused } = events.value}
  {#each refused as refusal (refusal.since + refusal.reason)}
    <p class="mt-2 border-l-4 border-l-signal pl-2">
      {#if refusal.times === 1}A message was refused <When time={refusal.latest} />{:else}{refusal.times} messages were refused, the last <When
          time={refusal.latest}
        />{/if}: {refusal.reason}.
    </p>
  {/each}
  {#if list.length}
    <h3 class="mt-3 mb-1 font-semibold">What came last</h3>
    <ul class="divide-y divide-line">
      {#each all ? list : list.slice(0, shownAtFirst) as event (event.id)}
        <li class="py-1.5">
          <p class="flex flex-wrap items-baseline gap-x-2">
            <button
              class="cursor-pointer text-left break-all text-accent underline"
              aria-expanded={opened?.event.id === event.id}
              onclick={() => look(event.id)}>{event.source || event.named || 'a message'}</button
            >
            <span class="text-sm text-faint"><When time={event.received} /></span>
            <span class="ml-auto text-sm">
              {words[event.became]}
              {#if event.caseId}<a href="/cases/{event.caseId}">{event.caseId}</a>{/if}
            </span>
          </p>
          {#if event.reason}<p class="text-sm break-words">Why: {event.reason}.</p>{/if}
          {#if opened?.event.id === event.id}
            <div class="mt-1 border-l-2 border-line pl-3 text-sm">
              {#if event.named}<p class="break-all text-faint">{event.named}, from {event.sender}</p>{/if}
              {#if opened.payload === null}<p class="text-faint">What it said isn’t kept.</p>
              {:else}<ValueView value={opened.payload} />{/if}
            </div>
          {/if}
        </li>
      {/each}
    </ul>
    {#if list.length > shownAtFirst && !all}
      <button class="button mt-2" onclick={() => (all = true)}>Show all {list.length}</button>
    {/if}
  {/if}
{/if}
