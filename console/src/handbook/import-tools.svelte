<script lang="ts">
  import { api, type ToolProposal, ApiError } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import FailureNote from '../parts/failure-note.svelte';
  import Waiting from '../parts/waiting.svelte';
  import { go } from '../router';
  import { inAddress } from './draft.svelte';
  import HandbookHead from './handbook-head.svelte';

  /** What a description may come to, as the command line has it. */
  const MOST_BYTES = 1_000_000;

  const loaded = new Loaded(async () => ({ connections: await api.connections(), files: (await api.draft()).files }));
  let name = $state('');
  let connection = $state('');
  let from = $state<'description' | 'server'>('description');
  let description = $state<File>();
  let proposal = $state<ToolProposal>();
  /** What is good to know of what was put into the draft. */
  let notes = $state<string[]>([]);
  let chosen = $state<string[]>([]);
  let failure = $state<ApiError>();
  let busy = $state(false);

  $effect(() => void loaded.refresh());

  const isThere = $derived(loaded.value?.files.some((file) => file.path === `tools/${name}.yaml` && file.change !== 'removed'));
  const ready = $derived(/^[a-z0-9][a-z0-9-]*$/.test(name) && connection && !isThere && (from === 'server' || description));

  async function propose(only: string[]): Promise<ToolProposal> {
    if (from === 'server') {
      return api.proposeTools({ name, connection, only });
    }
    if (description!.size > MOST_BYTES) {
      throw new ApiError(0, 'Too long', `${description!.name} has more than ${MOST_BYTES} bytes.`);
    }
    return api.proposeTools({ name, connection, openapi: await description!.text(), only });
  }

  async function during(work: () => Promise<void>): Promise<void> {
    busy = true;
    failure = undefined;
    try {
      await work();
    } catch (error) {
      failure = error as ApiError;
    } finally {
      busy = false;
    }
  }

  function look(event: SubmitEvent): void {
    event.preventDefault();
    void during(async () => {
      proposal = undefined;
      notes = [];
      proposal = await propose([]);
      chosen = [];
    });
  }

  function take(event: SubmitEvent): void {
    event.preventDefault();
    void during(async () => {
      const taken = await propose(chosen);
      for (const [path, text] of Object.entries(taken.files)) {
        await api.putDraft(path, text);
      }
      notes = taken.notes;
      if (!notes.length) open();
    });
  }

  function open(): void {
    go('/handbook/' + inAddress(`tools/${name}.yaml`));
  }
</script>

<HandbookHead />
<p class="mb-4 max-w-2xl">
  A system says what it can do; choose what agents may ever be granted. Effects, descriptions and examples are proposed and marked in the
  file: put right what isn’t so before you publish.
</p>
<Waiting {loaded}>
  {#snippet children({ connections })}
    <div class="grid grid-cols-[minmax(0,1fr)] gap-6 lg:grid-cols-[minmax(0,2fr)_minmax(0,3fr)]">
      <form class="sheet h-fit space-y-3 p-4" onsubmit={look} onchange={() => (proposal = undefined)}>
        <div>
          <label class="label" for="connection">They go out by the connection</label>
          <select id="connection" class="field" bind:value={connection}>
            <option value="" disabled>choose one</option>
            {#each connections as one (one.name)}<option>{one.name}</option>{/each}
          </select>
        </div>
        <fieldset>
          <legend class="label">What says what it offers?</legend>
          <label class="block"><input type="radio" bind:group={from} value="description" /> an OpenAPI 3 description, as JSON or YAML</label
          >
          <label class="block"><input type="radio" bind:group={from} value="server" /> the tool server there, asked now</label>
        </fieldset>
        {#if from === 'description'}
          <div>
            <label class="label" for="description">The description</label>
            <input
              id="description"
              class="field"
              type="file"
              accept=".yaml,.yml,.json"
              onchange={(event) => (description = event.currentTarget.files?.[0])}
            />
          </div>
        {/if}
        <div>
          <label class="label" for="name">The file is called</label>
          <input id="name" class="field" bind:value={name} placeholder="lower-case-words" />
          {#if isThere}<p class="text-sm font-semibold">tools/{name}.yaml is there already.</p>{/if}
        </div>
        <button class="button" disabled={!ready || busy}>See what it offers</button>
      </form>
      {#if notes.length}
        <section class="sheet h-fit space-y-3 p-4" aria-labelledby="notes">
          <h2 id="notes">It is in your draft. Mind this</h2>
          <ul class="list-disc space-y-1 pl-5 wrap-anywhere">
            {#each notes as note (note)}<li>{note}</li>{/each}
          </ul>
          <button class="button button-main" onclick={open}>Open the file</button>
        </section>
      {:else if proposal}
        <form class="sheet h-fit space-y-3 p-4" onsubmit={take}>
          <h2>It offers {proposal.offered.length === 1 ? 'one tool' : `${proposal.offered.length} tools`}</h2>
          <ul class="divide-y divide-line">
            {#each proposal.offered as one (one.id)}
              <li class="py-2">
                <label class="flex items-start gap-3">
                  <input type="checkbox" class="mt-1.5" value={one.id} bind:group={chosen} />
                  <span class="min-w-0 wrap-anywhere">
                    <span class="font-semibold">{name}.{one.tool}</span> <span class="text-sm text-faint">{one.effect}</span>
                    <span class="block text-sm text-faint">{one.description || 'It says nothing of it.'}</span>
                  </span>
                </label>
              </li>
            {/each}
          </ul>
          <button class="button button-main" disabled={chosen.length === 0 || busy}
            >Put {chosen.length === 1 ? 'it' : 'them'} into my draft</button
          >
        </form>
      {/if}
    </div>
    {#if failure}<div class="mt-4"><FailureNote {failure} /></div>{/if}
  {/snippet}
</Waiting>
