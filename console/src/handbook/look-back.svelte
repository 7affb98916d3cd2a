<script lang="ts">
  import { api, ApiError, type LookBack } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import { listKeys } from '../parts/list-keys';
  import OtherLimits from '../could-do/other-limits.svelte';
  import HandbookHead from './handbook-head.svelte';

  /** Decides past cases again by one's draft or an edition, and says what goes another way. */
  const SORTS: Record<string, string> = {
    alone: 'done with nobody asked',
    asked: 'people asked',
    refused: 'refused',
    told: 'told otherwise',
    people: 'handed over to people',
    way: 'another step or call',
  };
  const EVERY = 700;
  const FIRST_REASONS = 4;
  const A_FOLDER = 'a folder'; // what the service calls what the command line sent it

  let days = $state(30);
  let by = $state('draft');
  let page = $state('');
  let only = $state('');
  let mostAsks = $state(50);
  let surePage = $state('');
  let sureStep = $state('');
  let look = $state<LookBack>();
  let failure = $state<ApiError>();

  const other = $derived(look?.made.filter((one) => one.made === 'other') ?? []);
  const unknown = $derived(look?.made.filter((one) => one.made !== 'other') ?? []);
  const reasons = $derived(Object.entries(counted(unknown.map((one) => one.after))).sort((one, next) => next[1] - one[1]));
  const sorts = $derived(Object.entries(counted(other.map((one) => one.sort))));
  const shown = $derived(other.filter((one) => !only || one.sort === only).slice(0, 500));

  function counted(words: string[]): Record<string, number> {
    const counts: Record<string, number> = {};
    words.forEach((word) => (counts[word] = (counts[word] ?? 0) + 1));
    return counts;
  }

  async function take(asked: Promise<LookBack>): Promise<void> {
    failure = undefined;
    try {
      look = await asked;
    } catch (error) {
      failure = error as ApiError;
    }
  }

  async function begin(askModels?: number): Promise<void> {
    only = '';
    await take(
      api.beginLookBack({
        days,
        ...(by === 'draft' ? {} : { edition: Number(by) }),
        ...(page.trim() ? { page: page.trim() } : {}),
        ...(askModels ? { askModels } : {}),
      }),
    );
  }

  $effect(() => {
    api.lookBack().then(
      (found) => (look ??= found),
      () => {}, // none was begun yet
    );
  });
  $effect(() => {
    if (look?.state !== 'working') {
      return;
    }
    const timer = setTimeout(() => void take(api.lookBack()), EVERY);
    return () => clearTimeout(timer);
  });
</script>

{#snippet why(some: [string, number][])}
  {#each some as [reason, count] (reason)}<p class="mb-1 text-sm text-faint">{count} not knowable: {reason}</p>{/each}
{/snippet}

<HandbookHead />
<form class="sheet mb-5 flex flex-wrap items-end gap-4 p-4" onsubmit={(event) => (event.preventDefault(), void begin())}>
  <p class="w-full">Past cases, decided again with the answers that were given then. Nothing is called, and nothing is kept on a case.</p>
  <label class="text-sm text-faint"
    >By your draft, or an edition’s number
    <input class="field mt-0.5 block w-44 text-ink" bind:value={by} pattern="draft|[0-9]+" required />
  </label>
  <label class="text-sm text-faint"
    >Days back
    <input class="field mt-0.5 block w-24 text-ink" type="number" min="1" max="3660" bind:value={days} />
  </label>
  <label class="text-sm text-faint"
    >Only this page
    <input class="field mt-0.5 block w-52 text-ink" bind:value={page} />
  </label>
  <button class="button button-main">Look back</button>
</form>
{#if failure}<div class="mb-4"><FailureNote {failure} /></div>{/if}
{#if look}
  <section aria-labelledby="looked">
    <h2 id="looked" class="mb-1">{look.cases} cases, by {look.by}</h2>
    <p class="mb-3 flex flex-wrap items-baseline gap-x-5 gap-y-1" role="status">
      <span><b>{look.same}</b> the same</span>
      <span class={other.length ? 'text-signal' : ''}><b>{other.length}</b> another way</span>
      <span><b>{unknown.length}</b> not knowable</span>
      {#if look.state !== 'done'}<span class="text-faint">{look.done} of {look.cases} looked at</span>{/if}
      {#if look.state === 'working'}<button class="button" onclick={() => void take(api.stopLookBack())}>Stop</button>{/if}
      {#if look.state === 'stopped'}<button class="button" onclick={() => void take(api.resumeLookBack())}>Go on</button>{/if}
    </p>
    {#if look.asked}<p class="mb-2 text-sm">Models were asked again {look.asked} times.</p>{/if}
    {@render why(reasons.slice(0, FIRST_REASONS))}
    {#if reasons.length > FIRST_REASONS}
      <details class="mb-3 text-sm">
        <summary class="cursor-pointer text-accent">{reasons.length - FIRST_REASONS} other reasons</summary>
        {@render why(reasons.slice(FIRST_REASONS))}
      </details>
    {/if}
    {#if look.state === 'done' && look.toAsk.cases}
      <form
        class="sheet mb-3 flex flex-wrap items-end gap-3 p-3 text-sm"
        onsubmit={(event) => (event.preventDefault(), void begin(mostAsks))}
      >
        <p class="w-full">
          In {look.toAsk.cases} of these a model would be told something else. Asking it again is about {look.toAsk.tokens.toLocaleString(
            'en-GB',
          )} tokens{look.toAsk.cost == null ? '' : ` (${look.toAsk.cost.toFixed(4)} ${look.toAsk.currency})`} at first, and its answers; each
          is on the trail.
        </p>
        {#if look.by === A_FOLDER}
          <p class="w-full text-faint">Of a folder the command line asks: servitor handbook look-back DIR --ask-models {mostAsks} --yes</p>
        {:else}
          <label class="text-faint"
            >At most <input class="field ml-1 inline w-24 text-ink" type="number" min="1" max="1000" bind:value={mostAsks} /></label
          >
          <button class="button">Ask again and look back</button>
        {/if}
      </form>
    {/if}
    {#if sorts.length}
      <p class="mb-3 flex flex-wrap gap-x-5 text-sm">
        {#each sorts as [sort, count] (sort)}
          <label><input type="radio" bind:group={only} value={sort} /> {count} {SORTS[sort] ?? sort}</label>
        {/each}
        <label><input type="radio" bind:group={only} value="" /> all of them</label>
      </p>
      <div class="sheet mb-5" use:listKeys>
        {#each shown as one (one.caseId)}
          <a
            data-item
            href="/handbook/look-back/{one.caseId}"
            class="block border-b border-line px-3 py-2 text-ink no-underline last:border-b-0 hover:bg-accent-soft"
          >
            <span class="wrap-anywhere"><span class="text-faint">{one.caseId}</span> {one.subject}</span>
            <span class="block text-sm wrap-anywhere"
              ><span class="text-faint">{one.page}, at ‘{one.step}’:</span>
              {one.before} <span class="text-faint">→</span> <b>{one.after}</b></span
            >
          </a>
        {/each}
      </div>
    {/if}
  </section>
{/if}
<details class="mt-6">
  <summary class="cursor-pointer text-accent">What if a model had to be surer at a step?</summary>
  <div class="mt-3 grid max-w-2xl gap-3 sm:grid-cols-2">
    <label class="text-sm text-faint">Page <input class="field mt-0.5 block text-ink" bind:value={surePage} /></label>
    <label class="text-sm text-faint"
      >Step, one with ‘unsure-below’ <input class="field mt-0.5 block text-ink" bind:value={sureStep} /></label
    >
  </div>
  {#if surePage.trim() && sureStep.trim()}
    <div class="mt-3 max-w-2xl">
      <OtherLimits
        of={{ page: surePage.trim(), step: sureStep.trim() }}
        title="Less sure than that, and the step goes its other way"
        first={[0.5, 0.7, 0.9]}
      />
    </div>
  {/if}
</details>
