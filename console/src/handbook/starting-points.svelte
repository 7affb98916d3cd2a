<script lang="ts">
  import { api, type StartingPoint, ApiError } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import FailureNote from '../parts/failure-note.svelte';
  import Waiting from '../parts/waiting.svelte';
  import { go } from '../router';
  import { inAddress } from './draft.svelte';
  import HandbookHead from './handbook-head.svelte';

  const loaded = new Loaded(async () => ({ entries: await api.catalogue(), outline: (await api.assess('')).outline }));
  let chosen = $state<StartingPoint>();
  let names = $state<Record<string, string>>({});
  let failure = $state<ApiError>();

  $effect(() => void loaded.refresh());

  const KNOWN: Record<string, 'desks' | 'groups' | 'agents'> = { desk: 'desks', group: 'groups' };

  function choose(entry: StartingPoint): void {
    chosen = entry;
    failure = undefined;
    const outline = loaded.value?.outline;
    names = Object.fromEntries(entry.asks.map((ask) => [ask.name, (KNOWN[ask.name] && outline?.[KNOWN[ask.name]!]?.[0]) || ask.otherwise]));
  }

  async function start(event: Event): Promise<void> {
    event.preventDefault();
    try {
      const { files } = await api.startFrom(chosen!.name, names);
      go('/handbook/' + inAddress(files.find((file) => file.startsWith('runbooks/')) ?? files[0]!));
    } catch (error) {
      failure = error as ApiError;
    }
  }
</script>

<HandbookHead />
<p class="mb-4 max-w-2xl">
  Ready pages with their agent, mandate and kind. Choose one and name the few things that differ from house to house; it comes into your
  draft, where you can change it before anything is published.
</p>
<Waiting {loaded}>
  {#snippet children({ entries, outline })}
    <div class="grid grid-cols-[minmax(0,1fr)] gap-6 lg:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
      <ul class="space-y-2">
        {#each entries as entry (entry.name)}
          <li>
            <button
              class={[
                'sheet w-full cursor-pointer p-3 text-left hover:bg-accent-soft',
                chosen?.name === entry.name && 'border-accent bg-accent-soft',
              ]}
              aria-pressed={chosen?.name === entry.name}
              onclick={() => choose(entry)}
            >
              <span class="block font-semibold">{entry.title}</span>
              <span class="text-sm text-faint">{entry.summary}</span>
            </button>
          </li>
        {/each}
      </ul>
      {#if chosen}
        <form class="sheet h-fit space-y-3 p-4" onsubmit={start}>
          <h2>{chosen.title}</h2>
          {#each chosen.asks as ask (ask.name)}
            {@const known = KNOWN[ask.name] ? outline[KNOWN[ask.name]!] : []}
            <div>
              <label class="label" for="ask-{ask.name}">{ask.title[0]!.toUpperCase() + ask.title.slice(1)}</label>
              {#if known.length}
                <select id="ask-{ask.name}" class="field" bind:value={names[ask.name]}
                  >{#each known as one (one)}<option>{one}</option>{/each}</select
                >
              {:else}<input id="ask-{ask.name}" class="field" bind:value={names[ask.name]} />{/if}
            </div>
          {/each}
          {#if failure}<FailureNote {failure} />{/if}
          <button class="button button-main">Put it into my draft</button>
          <p class="text-sm text-faint">
            Makes {chosen.files
              .filter((file) => file.includes('/'))
              .map((file) => file.replace(/\{\{agent\}\}/, names['agent'] ?? ''))
              .join(', ')}.
          </p>
        </form>
      {/if}
    </div>
  {/snippet}
</Waiting>
