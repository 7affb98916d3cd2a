<script lang="ts">
  import { api, type Kind, ApiError } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import FailureNote from '../parts/failure-note.svelte';
  import Waiting from '../parts/waiting.svelte';
  import { go } from '../router';
  import ChosenFiles from './chosen-files.svelte';
  import { missing, refused, typed } from './form';
  import Asked from './asked.svelte';

  const kinds = new Loaded(api.kinds);
  $effect(() => void kinds.refresh());
  let chosen = $state<Kind>();
  /** A link to a form names its kind; whoever goes back from there sees all of them. */
  let linked = new URLSearchParams(location.search).get('kind');
  $effect(() => {
    if (linked && kinds.value) {
      chosen = kinds.value.find((kind) => kind.name === linked);
      linked = null;
    }
  });
  let subject = $state('');
  let text = $state('');
  let fields = $state<Record<string, string>>({});
  let wrong = $state<Record<string, string>>({});
  let files = $state<File[]>([]);
  /** The case, once it is opened: what is left then is to add the files. */
  let opened = $state('');
  let failure = $state<ApiError>();
  let busy = $state(false);
  /** One key for one filled form: pressing twice, or again after a broken connection, opens one case. */
  let key = crypto.randomUUID();

  /** Another form is another case. */
  function choose(kind: Kind | undefined): void {
    chosen = kind;
    opened = '';
    files = [];
    wrong = {};
    failure = undefined;
    key = crypto.randomUUID();
  }

  /** What is wrong first is seen and can be typed into at once. */
  function showFirst(): void {
    requestAnimationFrame(() => document.querySelector<HTMLElement>('[aria-invalid=true]')?.focus());
  }

  async function open(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    failure = undefined;
    wrong = missing(chosen!.fields, subject, fields);
    if (Object.keys(wrong).length) {
      showFirst();
      return;
    }
    busy = true;
    try {
      opened ||= (await api.openCase({ kind: chosen!.name, subject, text, fields: typed(chosen!.fields, fields) }, key)).summary.id;
      while (files.length) {
        await api.attach(opened, files[0]!);
        files = files.slice(1);
      }
      go(`/cases/${opened}`);
    } catch (error) {
      failure = error as ApiError;
      wrong = refused(failure);
      if (failure.status !== 0) {
        key = crypto.randomUUID();
      }
    } finally {
      busy = false;
    }
  }
</script>

<h1 class="mb-4">Ask</h1>
<Waiting loaded={kinds}>
  {#snippet children(list)}
    {#if chosen}
      <form onsubmit={open} novalidate class="sheet max-w-xl space-y-4 p-5">
        <h2>{chosen.title}</h2>
        {#if failure}<FailureNote {failure} />{/if}
        {#if opened && failure}<p><a href="/cases/{opened}">{opened}</a> is opened; a file could not be added to it.</p>{/if}
        <Asked fields={chosen.fields} bind:subject bind:text bind:values={fields} {wrong} />
        <ChosenFiles rule={chosen.files} documents={chosen.documents} bind:files />
        <div class="flex gap-3">
          <button class="button button-main" disabled={busy}>{busy ? 'Sending…' : opened ? 'Add the files' : 'Send'}</button>
          <button type="button" class="button" onclick={() => choose(undefined)}>Back</button>
        </div>
      </form>
    {:else}
      <ul class="sheet max-w-xl">
        {#each list as kind (kind.name)}
          <li class="border-b border-line last:border-0">
            <button class="w-full cursor-pointer px-4 py-3 text-left hover:bg-accent-soft" onclick={() => choose(kind)}>{kind.title}</button
            >
          </li>
        {:else}<li class="p-4 text-faint">Nothing can be asked for yet: no handbook has been published.</li>{/each}
      </ul>
    {/if}
  {/snippet}
</Waiting>
