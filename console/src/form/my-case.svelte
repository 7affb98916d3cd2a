<script lang="ts">
  import { api, type ApiError, type MyCase } from '../api/client';
  import Withdraw from '../cases/withdraw.svelte';
  import FailureNote from '../parts/failure-note.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import StateWord from '../parts/state-word.svelte';
  import Waiting from '../parts/waiting.svelte';
  import When from '../parts/when.svelte';
  import Given from './given.svelte';
  import Paper from './paper.svelte';
  import { secret } from './secret';

  /** One’s own case, by a link. */
  const link = secret();
  const shown = new Loaded(() => api.myCase(link));
  $effect(() => {
    void shown.refresh();
    const often = setInterval(() => void shown.refresh(), 20_000);
    return () => clearInterval(often);
  });

  let text = $state('');
  let failure = $state<ApiError>();
  let busy = $state(false);

  async function doing(work: () => Promise<MyCase>): Promise<void> {
    busy = true;
    try {
      shown.value = await work();
      failure = undefined;
    } catch (error) {
      failure = error as ApiError;
    } finally {
      busy = false;
    }
  }

  async function answer(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    await doing(() => api.answerMyCase(link, text));
    if (!failure) text = '';
  }

  async function attach(event: Event): Promise<void> {
    const input = event.currentTarget as HTMLInputElement;
    const file = input.files?.[0];
    if (file) await doing(() => api.attachToMyCase(link, file));
    input.value = '';
  }
</script>

<Waiting loaded={shown}>
  {#snippet children(mine)}
    <Paper house={mine.house} title={mine.title}>
      <p class="mb-4 flex flex-wrap items-baseline gap-x-3">
        <StateWord state={mine.state} needsPerson={mine.waitingFor?.startsWith('your') || mine.waitingFor?.endsWith('from you')} />
        {#if mine.waitingFor}<span>for {mine.waitingFor}</span>{/if}
        <span class="ml-auto text-faint">{mine.id}</span>
      </p>
      <section class="sheet space-y-3 p-4" aria-label="What you asked">
        <Given subject={mine.subject} text={mine.text} fields={mine.fields} />
        {#each mine.files as file, at (at)}<p class="text-sm text-faint">{file.name}, {Math.ceil(file.size / 1024)} KB</p>{/each}
      </section>
      <section class="mt-4 space-y-3" aria-label="What was said">
        {#each mine.said as said, at (at)}
          <div class={['sheet p-3', said.mine && 'ml-8 bg-accent-soft']}>
            <p class="text-sm text-faint">{said.mine ? 'You' : mine.house}, <When time={said.at} /></p>
            {#if said.text === null}<p>There is an answer. It is personal, so it isn’t shown by a link: ask the desk for it.</p>
            {:else}<p class="whitespace-pre-wrap">{said.text}</p>{/if}
          </div>
        {/each}
      </section>
      {#if failure}<div class="mt-3"><FailureNote {failure} /></div>{/if}
      <form onsubmit={answer} class="mt-4 space-y-2">
        <label class="label" for="answer">{mine.done ? 'Something to add? It is taken up again then.' : 'Write to us'}</label>
        <textarea id="answer" class="field" rows="3" bind:value={text} maxlength="20000"></textarea>
        <div class="flex flex-wrap items-center gap-4">
          <button class="button button-main" disabled={busy || !text.trim()}>Send</button>
          <label class="cursor-pointer text-accent underline focus-within:outline-2 focus-within:outline-accent">
            Add a file
            <input type="file" class="sr-only" disabled={busy} onchange={attach} />
          </label>
        </div>
      </form>
      {#if !mine.done}
        <div class="mt-6"><Withdraw work={() => api.withdrawMyCase(link)} onDone={() => void shown.refresh()} /></div>
      {/if}
    </Paper>
  {/snippet}
</Waiting>
