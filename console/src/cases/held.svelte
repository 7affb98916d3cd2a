<script lang="ts">
  import { untrack } from 'svelte';
  import { ApiError, api, type Run } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import { changed, type Fields, read, shared, written } from './held';

  /** A call that is held in shadow, and where somebody who did it by hand says what they did. */
  let { run, onChanged }: { run: Run; onChanged: () => void } = $props();

  const held = $derived(run.held!);
  let inputs = $state<Record<string, string>>(untrack(() => written(run.held!.inputs)));
  const answers = $derived((held.answers.properties ?? {}) as Fields);
  let gave = $state<Record<string, string>>(untrack(() => written(shared(run.held!.inputs, run.held!.answers.properties ?? {}))));
  let reason = $state('');
  let failure = $state<ApiError>();

  const otherwise = $derived(changed(held.inputs, inputs));

  async function say(did: 'done' | 'nothing'): Promise<void> {
    failure = undefined;
    try {
      const made = did === 'done' ? { inputs: read(held.inputs, inputs), result: read({}, gave, answers) } : {};
      await api.doneByHand(run.id, { did, reason, ...made });
      onChanged();
    } catch (error) {
      failure = error as ApiError;
    }
  }
</script>

<section class="sheet mb-3 space-y-3 border-l-4 border-l-signal bg-signal-soft p-4" aria-labelledby="held-{run.id}">
  <h3 id="held-{run.id}" class="font-semibold">What did you do here?</h3>
  <p>
    In shadow it would now: <span class="font-semibold wrap-anywhere">{held.says}</span>. Nothing was sent. Do by hand what you hold right,
    and say what that was: it is compared with this, and the run goes on from it.
  </p>
  <fieldset class="grid gap-3 sm:grid-cols-2">
    <legend class="label">What you did it with</legend>
    {#each Object.keys(inputs) as name (name)}
      <div class={name === 'text' ? 'sm:col-span-2' : ''}>
        <label class="text-sm text-faint" for="with-{run.id}-{name}">{name}</label>
        {#if name === 'text'}
          <textarea id="with-{run.id}-{name}" class="field" rows="5" bind:value={inputs[name]}></textarea>
        {:else}
          <input id="with-{run.id}-{name}" class="field" bind:value={inputs[name]} />
        {/if}
      </div>
    {/each}
  </fieldset>
  {#if Object.keys(answers).length}
    <fieldset class="grid gap-3 sm:grid-cols-2">
      <legend class="label">What came of it</legend>
      {#each Object.keys(answers) as name (name)}
        <div>
          <label class="text-sm text-faint" for="gave-{run.id}-{name}">{name}</label>
          <input id="gave-{run.id}-{name}" class="field" bind:value={gave[name]} />
        </div>
      {/each}
    </fieldset>
  {/if}
  <div>
    <label class="label" for="why-{run.id}">Why so?</label>
    <input id="why-{run.id}" class="field" bind:value={reason} />
  </div>
  {#if failure}<FailureNote {failure} />{/if}
  <div class="flex flex-wrap gap-3">
    <button class="button" disabled={!reason.trim()} onclick={() => say('done')}>
      {otherwise ? 'I did it so, otherwise than proposed' : 'I did just this'}
    </button>
    <button class="button" disabled={!reason.trim()} onclick={() => say('nothing')}>I did nothing of the kind</button>
  </div>
</section>
