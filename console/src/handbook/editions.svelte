<script lang="ts">
  import { api, type Comparison, type Edition, ApiError } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import FailureNote from '../parts/failure-note.svelte';
  import Waiting from '../parts/waiting.svelte';
  import When from '../parts/when.svelte';
  import { session } from '../shell/session.svelte';
  import ComparisonView from './comparison-view.svelte';
  import HandbookHead from './handbook-head.svelte';

  const loaded = new Loaded(api.editions);
  let compared = $state<{ older: number; newer: number; comparison: Comparison }>();
  let asking = $state<number>();
  let failure = $state<ApiError>();

  $effect(() => void loaded.refresh());

  async function attempt(work: () => Promise<void>): Promise<void> {
    failure = undefined;
    await work().catch((error: ApiError) => (failure = error));
  }

  function compare(older: number, newer: number): void {
    void attempt(async () => {
      compared = { older, newer, comparison: await api.compareEditions(older, newer) };
    });
  }

  function restore(edition: Edition): void {
    void attempt(async () => {
      await api.restoreEdition(edition.number);
      asking = undefined;
      await loaded.refresh();
    });
  }
</script>

<HandbookHead />
{#if failure}<div class="mb-4"><FailureNote {failure} /></div>{/if}
<Waiting {loaded}>
  {#snippet children(editions)}
    {@const current = editions.find((edition) => edition.current)?.number ?? 0}
    <div class="grid grid-cols-[minmax(0,1fr)] gap-6 lg:grid-cols-[minmax(0,2fr)_minmax(0,3fr)]">
      <ul class="space-y-2">
        {#each editions as edition (edition.number)}
          <li class="sheet p-3">
            <p class="flex flex-wrap items-baseline gap-x-3">
              <span class="font-semibold">Edition {edition.number}</span>
              {#if edition.current}<span class="text-sm text-accent">in force</span>{/if}
              <span class="ml-auto text-sm text-faint">{edition.publishedBy.name}, <When time={edition.published} /></span>
            </p>
            {#if edition.note}<p>{edition.note}</p>{/if}
            <p class="mt-1 flex gap-4 text-sm">
              {#if edition.number > 1}<button
                  class="cursor-pointer text-accent underline"
                  onclick={() => compare(edition.number - 1, edition.number)}>what it changed</button
                >{/if}
              {#if !edition.current}<button class="cursor-pointer text-accent underline" onclick={() => compare(edition.number, current)}
                  >what changed since</button
                >{/if}
              {#if !edition.current && session.is('engineer')}
                {#if asking === edition.number}
                  <button class="button" onclick={() => restore(edition)}>Publish it again as edition {current + 1}</button>
                {:else}<button class="cursor-pointer text-accent underline" onclick={() => (asking = edition.number)}>go back to it</button
                  >{/if}
              {/if}
            </p>
          </li>
        {/each}
      </ul>
      <div>
        {#if compared}
          <p class="mb-3 text-faint">From edition {compared.older} to edition {compared.newer}</p>
          <ComparisonView comparison={compared.comparison} />
        {:else}<p class="text-faint">Choose what to compare.</p>{/if}
      </div>
    </div>
  {/snippet}
</Waiting>
