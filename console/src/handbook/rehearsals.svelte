<script lang="ts">
  import { api } from '../api/client';
  import { listKeys } from '../parts/list-keys';
  import { Loaded } from '../parts/loaded.svelte';
  import Waiting from '../parts/waiting.svelte';
  import HandbookHead from './handbook-head.svelte';
  import { inAddress } from './draft.svelte';
  import UntouchedDrawing from './untouched-drawing.svelte';

  /** All rehearsals of one's draft, played, and what none of them touches. */
  const loaded = new Loaded(() => api.rehearsals());
  $effect(() => void loaded.refresh());

  /** The pages that are shown drawn. */
  const opened = $state<Record<string, boolean>>({});

  /** Of which page how many steps and ways are left out. */
  function byPage<Of extends { page: string }>(all: Of[]): [string, Of[]][] {
    const pages: Record<string, Of[]> = {};
    all.forEach((one) => (pages[one.page] ??= []).push(one));
    return Object.entries(pages);
  }
</script>

<HandbookHead />
<Waiting {loaded}>
  {#snippet children({ played, untouched })}
    {@const notSo = played.filter((one) => !one.passed)}
    <div class="grid grid-cols-[minmax(0,1fr)] gap-6 lg:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
      <section aria-labelledby="played">
        <h2 id="played" class="mb-2">
          {played.length} played, {notSo.length ? `${notSo.length} not as rehearsed` : 'all as rehearsed'}
        </h2>
        <div class="sheet" use:listKeys>
          {#each [...notSo, ...played.filter((one) => one.passed)] as one (one.name)}
            <a
              data-item
              href="/handbook/rehearsals/{one.name}"
              class={[
                'block border-b border-line px-3 py-2 text-ink no-underline last:border-b-0 hover:bg-accent-soft',
                !one.passed && 'border-l-4 border-l-signal',
              ]}
            >
              <span class="wrap-anywhere">{one.title}</span>
              <span class="block text-sm text-faint">{one.name} · {one.kind} · ends {one.state.replaceAll('-', ' ')}</span>
              {#each one.differences as difference (difference)}<span class="block text-sm wrap-anywhere text-signal">{difference}</span
                >{/each}
            </a>
          {:else}<p class="p-4 text-faint">
              There are none yet. A rehearsal is a file in rehearsals/: a case, what the world answers, and what must come of it.
            </p>{/each}
        </div>
      </section>
      <section aria-labelledby="untouched" class="text-sm">
        <h2 id="untouched" class="mb-2 text-base">What none of them touches</h2>
        <p class="mb-3 text-faint">
          {untouched.steps.length} of {untouched.allSteps} steps, {untouched.ways.length} of {untouched.allWays} ways,
          {untouched.grants.length} of {untouched.allGrants} grants
        </p>
        {#each byPage(untouched.steps) as [page, steps] (page)}
          <p class="mb-1">
            <a href="/handbook/{inAddress(`runbooks/${page}.md`)}">{page}</a>: {steps.map((step) => step.step).join(' · ')}
          </p>
        {/each}
        {#if untouched.grants.length}
          <h3 class="mt-4 mb-1 font-semibold">Grants that judged nothing</h3>
          {#each untouched.grants as grant (grant.mandate + grant.grant)}
            <p><a href="/handbook/{inAddress(`mandates/${grant.mandate}.yaml`)}">{grant.mandate}</a>: {grant.grant}</p>
          {/each}
        {/if}
        {#if untouched.ways.length}
          <h3 class="mt-4 mb-1 font-semibold">Ways that none takes</h3>
          {#each byPage(untouched.ways) as [page, ways] (page)}
            <details class="mb-1" bind:open={opened[page]}>
              <summary class="cursor-pointer">{page}, {ways.length}</summary>
              {#if opened[page]}<UntouchedDrawing {page} />{/if}
              <ul class="mt-1 mb-2 space-y-0.5 pl-4 text-faint">
                {#each ways as way (way.from + way.on + way.to)}<li>{way.from}{way.on ? `, ${way.on}` : ''} → {way.to}</li>{/each}
              </ul>
            </details>
          {/each}
        {/if}
      </section>
    </div>
  {/snippet}
</Waiting>
