<script lang="ts">
  import { ApiError, api } from '../api/client';
  import Lanes from '../cases/lanes.svelte';
  import FailureNote from '../parts/failure-note.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import StateWord from '../parts/state-word.svelte';
  import Waiting from '../parts/waiting.svelte';
  import { route } from '../router';
  import { inAddress } from './draft.svelte';
  import HandbookHead from './handbook-head.svelte';
  import TryAnswer from './try-answer.svelte';

  /** One page tried out: what happened so far in the lanes of a case, and what is open. */
  const id = $derived(String(route.params.id ?? ''));
  const loaded = new Loaded(() => api.tryOut(id));
  $effect(() => {
    void id;
    void loaded.refresh();
  });

  let failure = $state<ApiError>();
  let name = $state('');
  let kept = $state('');

  async function then(act: () => Promise<unknown>): Promise<void> {
    failure = undefined;
    try {
      await act();
      await loaded.refresh();
    } catch (error) {
      failure = error as ApiError;
    }
  }

  async function keep(): Promise<void> {
    await then(async () => (kept = (await api.keepTry(id, name)).path));
  }
</script>

<HandbookHead />
<Waiting {loaded}>
  {#snippet children({ about, state, faults, answers, forReal, lanes, open })}
    <p class="text-faint"><a href="/handbook/tries">Tries</a> / {about.source} {about.named}</p>
    <h2 class="mb-1 text-xl wrap-anywhere">{about.title}</h2>
    <p class="mb-4 flex flex-wrap items-baseline gap-x-4 gap-y-1 text-faint">
      <StateWord {state} />
      <span>{answers} answered{forReal ? `, ${forReal} asked for real` : ''}; nothing of this is done or kept on a case</span>
      {#if answers}
        <button class="cursor-pointer text-accent underline" onclick={() => then(() => api.takeTryBack(id))}
          >take the last answer back</button
        >
      {/if}
    </p>
    <div class="grid grid-cols-[minmax(0,1fr)] items-start gap-6 lg:grid-cols-[minmax(0,2fr)_minmax(0,3fr)]">
      <div class="space-y-4">
        {#if failure}<FailureNote {failure} />{/if}
        {#if open}
          {#key `${open.step} ${answers}`}
            <TryAnswer
              {open}
              onAnswer={(answer) => then(() => api.answerTry(id, answer))}
              onSilent={() => then(() => api.answerTry(id))}
              onForReal={() => then(() => api.askTryForReal(id))}
            />
          {/key}
        {:else}
          <section class="sheet space-y-3 p-4" aria-labelledby="end">
            <h2 id="end">{faults.length ? 'It broke off' : 'It has come to its end'}</h2>
            {#each faults as fault (fault)}<p class="wrap-anywhere text-signal">{fault}</p>{/each}
            {#if kept}
              <p role="status">Kept: <a href="/handbook/{inAddress(kept)}">{kept}</a>. Say under ‘must’ what has to hold.</p>
            {:else if about.source !== 'case'}
              <label class="label" for="name">Keep it as a rehearsal, called</label>
              <div class="flex gap-3">
                <input id="name" class="field" placeholder="refund-of-half" bind:value={name} />
                <button class="button" disabled={!name.trim()} onclick={keep}>Keep</button>
              </div>
            {/if}
          </section>
        {/if}
      </div>
      <Lanes caseId="" {...lanes} runs={[]} onChanged={() => void loaded.refresh()} />
    </div>
  {/snippet}
</Waiting>
