<script lang="ts">
  import { api, type Kind, ApiError } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import FailureNote from '../parts/failure-note.svelte';
  import Waiting from '../parts/waiting.svelte';
  import { go } from '../router';

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
  let failure = $state<ApiError>();
  let busy = $state(false);
  /** One key for one filled form: pressing twice, or again after a broken connection, opens one case. */
  let key = crypto.randomUUID();

  function typed(kind: Kind): Record<string, unknown> {
    return Object.fromEntries(
      kind.fields
        .filter((field) => (fields[field.name] ?? '') !== '')
        .map((field) => [
          field.name,
          field.type === 'number'
            ? Number(fields[field.name])
            : field.type === 'yes/no'
              ? fields[field.name] === 'yes'
              : fields[field.name],
        ]),
    );
  }

  async function open(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    busy = true;
    try {
      const opened = await api.openCase({ kind: chosen!.name, subject, text, fields: typed(chosen!) }, key);
      go(`/cases/${opened.summary.id}`);
    } catch (error) {
      failure = error as ApiError;
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
      <form onsubmit={open} class="sheet max-w-xl space-y-4 p-5">
        <h2>{chosen.title}</h2>
        {#if failure}<FailureNote {failure} />{/if}
        <div>
          <label class="label" for="subject">In a few words</label>
          <input id="subject" class="field" bind:value={subject} maxlength="200" required />
        </div>
        {#each chosen.fields as field (field.name)}
          <div>
            <label class="label" for="field-{field.name}">{field.title}</label>
            {#if field.type === 'yes/no'}
              <select id="field-{field.name}" class="field" bind:value={fields[field.name]} required={field.required}
                ><option value="">choose</option><option>yes</option><option>no</option></select
              >
            {:else}
              <input
                id="field-{field.name}"
                class="field"
                type={field.type === 'number' ? 'number' : field.type === 'date' ? 'date' : 'text'}
                step="any"
                bind:value={fields[field.name]}
                required={field.required}
              />
            {/if}
            {#if field.hint}<p class="text-sm text-faint">{field.hint}</p>{/if}
          </div>
        {/each}
        <div>
          <label class="label" for="words">What happened, in your own words</label>
          <textarea id="words" class="field" rows="4" bind:value={text} maxlength="20000"></textarea>
        </div>
        <div class="flex gap-3">
          <button class="button button-main" disabled={busy}>Send</button>
          <button type="button" class="button" onclick={() => (chosen = undefined)}>Back</button>
        </div>
      </form>
    {:else}
      <ul class="sheet max-w-xl">
        {#each list as kind (kind.name)}
          <li class="border-b border-line last:border-0">
            <button class="w-full cursor-pointer px-4 py-3 text-left hover:bg-accent-soft" onclick={() => (chosen = kind)}
              >{kind.title}</button
            >
          </li>
        {:else}<li class="p-4 text-faint">Nothing can be asked for yet: no handbook has been published.</li>{/each}
      </ul>
    {/if}
  {/snippet}
</Waiting>
