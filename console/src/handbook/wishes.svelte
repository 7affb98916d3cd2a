<script lang="ts">
  import { api, type PublishWish } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import When from '../parts/when.svelte';

  /** Handbooks that somebody wants to publish: those that wait for one's word, or one's own. */
  let { own }: { own: boolean } = $props();

  const wishes = new Loaded(() => api.publishWishes());
  $effect(() => wishes.follow());

  const SAYS: Record<PublishWish['state'], string> = {
    open: 'waits for another engineer',
    agreed: 'agreed; publish it again',
    declined: 'declined',
  };
  const shown = $derived((wishes.value ?? []).filter((wish) => wish.own === own && (own || wish.state === 'open')));
</script>

{#if shown.length}
  <section class="mb-6" aria-labelledby="wishes">
    <h2 id="wishes" class="mb-2">{own ? 'Asked for' : 'To be published'}</h2>
    <div class="sheet">
      {#each shown as wish (wish.digest)}
        <a
          data-item
          href="/handbook/consents/{wish.digest}"
          class={[
            'block border-b border-line px-3 py-2 text-ink no-underline last:border-b-0 hover:bg-accent-soft',
            !own && 'border-l-4 border-l-signal',
          ]}
        >
          <span class="font-semibold wrap-anywhere">{wish.note || 'A handbook, with no word why'}</span>
          <span class="block text-sm text-faint"
            >{wish.person.name} · <When time={wish.asked} /> · {SAYS[wish.state]}{wish.answeredBy
              ? ` by ${wish.answeredBy.name}`
              : ''}{wish.reason ? `: ${wish.reason}` : ''}</span
          >
        </a>
      {/each}
    </div>
  </section>
{/if}
