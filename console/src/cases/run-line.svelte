<script lang="ts">
  import { api, type Run, Trouble } from '../api/client';
  import { session } from '../shell/session.svelte';

  /** One run of a case: where it stands, and what staff can do about it. */
  let { run, onChanged }: { run: Run; onChanged: () => void } = $props();

  let stopping = $state(false);
  let reason = $state('');
  let trouble = $state<Trouble>();

  const ended = $derived(['finished', 'failed', 'stopped'].includes(run.status));
  const mayStop = $derived(!ended && session.is('engineer', 'resolver'));
  const mayMove = $derived(run.status === 'waiting' && session.is('engineer'));

  async function attempt(work: () => Promise<unknown>): Promise<void> {
    trouble = undefined;
    try {
      await work();
      stopping = false;
      onChanged();
    } catch (error) {
      trouble = error as Trouble;
    }
  }

  async function move(): Promise<void> {
    const newest = (await api.editions()).find((edition) => edition.current);
    await attempt(() => api.moveRun(run.id, newest?.number ?? 0));
  }
</script>

<div class="mb-1 text-sm text-faint">
  {run.agent} follows ‘{run.pageTitle}’, edition {run.edition}: {run.status} at ‘{run.stepTitle}’ · {run.calls} {run.calls === 1 ? 'call' : 'calls'} · {run.tokens} model tokens
  {#if mayMove}<button class="ml-2 cursor-pointer text-accent underline" onclick={move}>move to the newest edition</button>{/if}
  {#if mayStop && !stopping}<button class="ml-2 cursor-pointer text-accent underline" onclick={() => (stopping = true)}>stop</button>{/if}
  {#if stopping}
    <form class="mt-1 flex gap-2" onsubmit={(event) => (event.preventDefault(), void attempt(() => api.stopRun(run.id, reason)))}>
      <input class="field" aria-label="Why stop it?" placeholder="Why?" bind:value={reason} />
      <button class="button" disabled={!reason.trim()}>Stop</button>
      <button type="button" class="button" onclick={() => (stopping = false)}>Back</button>
    </form>
  {/if}
  {#if trouble}<span role="alert" class="block text-ink">{trouble.message}</span>{/if}
</div>
