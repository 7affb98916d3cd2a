<script lang="ts">
  import { ApiError, api } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import Waiting from '../parts/waiting.svelte';
  import When from '../parts/when.svelte';
  import { route } from '../router';
  import ComparisonView from './comparison-view.svelte';
  import HandbookHead from './handbook-head.svelte';

  /** A handbook that somebody wants to publish, and where another engineer agrees or doesn't. */
  const digest = $derived(String(route.params.digest ?? ''));
  const loaded = new Loaded(() => api.publishWish(digest));
  $effect(() => {
    void digest;
    void loaded.refresh();
  });

  let reason = $state('');
  let failure = $state<ApiError>();

  async function answer(declined: boolean): Promise<void> {
    failure = undefined;
    try {
      await api.answerWish(digest, declined, declined ? reason : undefined);
      await loaded.refresh();
    } catch (error) {
      failure = error as ApiError;
    }
  }
</script>

<HandbookHead />
<Waiting {loaded}>
  {#snippet children({ wish, comparison })}
    <p class="text-faint"><a href="/approvals">Approvals</a> / to be published</p>
    <h2 class="mb-1 text-xl wrap-anywhere">{wish.note || 'A handbook, with no word why'}</h2>
    <p class="mb-4 text-faint">{wish.person.name} wants to publish this, asked <When time={wish.asked} /></p>
    <div class="grid grid-cols-[minmax(0,1fr)] items-start gap-6 lg:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
      <div><ComparisonView {comparison} /></div>
      <section class="sheet space-y-3 p-4" aria-labelledby="word">
        <h2 id="word">Your word</h2>
        {#if failure}<FailureNote {failure} />{/if}
        {#if wish.answeredBy}
          <p>{wish.answeredBy.name} {wish.state === 'declined' ? 'declined' : 'agreed'}{wish.reason ? `: ${wish.reason}` : '.'}</p>
        {/if}
        {#if wish.own}
          <p>It is yours; another engineer agrees. Publish it again once they have.</p>
        {:else}
          <p class="text-sm text-faint">It holds for exactly these files, and for nothing that is changed after it.</p>
          <div>
            <label class="label" for="reason">Why not, if you don’t</label>
            <textarea id="reason" class="field" rows="2" bind:value={reason}></textarea>
          </div>
          <div class="flex flex-wrap gap-3">
            <button class="button button-main" onclick={() => answer(false)}>Agree</button>
            <button class="button" disabled={!reason.trim()} onclick={() => answer(true)}>Decline</button>
          </div>
        {/if}
      </section>
    </div>
  {/snippet}
</Waiting>
