<script lang="ts">
  import { api, type Offered, type StartingPoint, ApiError } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import FailureNote from '../parts/failure-note.svelte';
  import Waiting from '../parts/waiting.svelte';
  import { go } from '../router';
  import { inAddress } from './draft.svelte';
  import HandbookHead from './handbook-head.svelte';

  const loaded = new Loaded(async () => {
    const [entries, assessment, connections] = await Promise.all([api.catalogue(), api.assess(''), api.connections()]);
    const { desks, groups } = assessment.outline;
    return { entries, known: { desk: desks, group: groups, connection: connections.map((one) => one.name) } };
  });
  let chosen = $state<StartingPoint>();
  let names = $state<Record<string, string>>({});
  let offered = $state<Record<string, Offered>>({});
  let asking = $state(false);
  let failure = $state<ApiError>();

  $effect(() => void loaded.refresh());

  /** What the house has already of what is asked for. */
  function known(name: string): string[] {
    return (loaded.value?.known as Record<string, string[]> | undefined)?.[name] ?? [];
  }

  function choose(entry: StartingPoint): void {
    chosen = entry;
    failure = undefined;
    offered = {};
    names = Object.fromEntries(
      entry.asks.map((ask) => [ask.name, known(ask.name).includes(ask.otherwise) ? ask.otherwise : (known(ask.name)[0] ?? ask.otherwise)]),
    );
    void look();
  }

  /** Asks the connection what there is; what was chosen stays as long as there is such a thing. */
  async function look(): Promise<void> {
    const entry = chosen;
    if (!entry?.asks.some((ask) => ask.choices)) {
      return;
    }
    asking = true;
    try {
      const found = await api.choices(entry.name, names);
      if (entry === chosen) {
        offered = found;
        for (const [name, { items }] of Object.entries(found)) {
          names[name] = items.some((item) => item.value === names[name]) ? names[name]! : (items[0]?.value ?? names[name]!);
        }
      }
    } catch (error) {
      failure = error as ApiError;
    } finally {
      asking = false;
    }
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
  {#snippet children({ entries })}
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
            {@const items = offered[ask.name]?.items ?? known(ask.name).map((value) => ({ value, title: value }))}
            {@const reason = offered[ask.name]?.reason}
            <div>
              <label class="label" for="ask-{ask.name}">{ask.title[0]!.toUpperCase() + ask.title.slice(1)}</label>
              {#if items.length}
                <select id="ask-{ask.name}" class="field" bind:value={names[ask.name]} onchange={look}
                  >{#each items as one (one.value)}<option value={one.value}>{one.title}</option>{/each}</select
                >
              {:else}<input id="ask-{ask.name}" class="field" bind:value={names[ask.name]} />{/if}
              {#if reason}<p class="text-sm text-faint">The connection can’t say what there is: {reason}. Type it.</p>{/if}
            </div>
          {/each}
          {#if failure}<FailureNote {failure} />{/if}
          <button class="button button-main" disabled={asking}>Put it into my draft</button>
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
