<script lang="ts">
  import { api, type Run, ApiError } from '../api/client';
  import { session } from '../shell/session.svelte';
  import Steer from './steer.svelte';

  const LONGEST_HANDED = 120;

  /** One run of a case: where it stands, and what staff can do about it. */
  let { run, by, onChanged }: { run: Run; by?: string | undefined; onChanged: () => void } = $props();

  /** For whom this page is worked, and what it was given, in words; nothing when no other page follows it. */
  const forWhom = $derived.by(() => {
    const handed = Object.entries(run.handed ?? {})
      .map(([name, value]) => `${name} ${typeof value === 'object' ? JSON.stringify(value) : String(value)}`)
      .join(', ');
    const shown = handed.length > LONGEST_HANDED ? handed.slice(0, LONGEST_HANDED) + '…' : handed;
    return by ? `for ${by}${shown ? ` (${shown})` : ''}, ` : '';
  });

  const ASKS = {
    stop: { ask: 'Why stop it?', does: 'Stop', work: (why: string) => api.stopRun(run.id, why) },
    pause: { ask: 'Why pause it?', does: 'Pause', work: (why: string) => api.pauseRun(run.id, why) },
  };
  let asking = $state<keyof typeof ASKS>();
  let saying = $state(false);
  let words = $state('');
  let failure = $state<ApiError>();

  const ended = $derived(['finished', 'failed', 'stopped'].includes(run.status));
  const maySteer = $derived(!ended && session.is('engineer', 'resolver'));
  const mayMove = $derived(run.status === 'waiting' && session.is('engineer'));

  async function attempt(work: () => Promise<unknown>): Promise<void> {
    failure = undefined;
    try {
      await work();
      asking = undefined;
      words = '';
      onChanged();
    } catch (error) {
      failure = error as ApiError;
    }
  }

  async function move(): Promise<void> {
    const newest = (await api.editions()).find((edition) => edition.current);
    await attempt(() => api.moveRun(run.id, newest?.number ?? 0));
  }
</script>

{#snippet action(label: string, does: () => void)}
  <button class="ml-2 cursor-pointer text-accent underline" onclick={does}>{label}</button>
{/snippet}

<div class="mb-1 text-sm text-faint">
  {run.agent} follows ‘{run.pageTitle}’, edition {run.edition}: {forWhom}{run.status}{#if run.paused}, paused ({run.paused}){/if} at ‘{run.stepTitle}’
  · {run.calls}
  {run.calls === 1 ? 'call' : 'calls'} · {run.tokens} model tokens
  {#if mayMove}{@render action('move to the newest edition', move)}{/if}
  {#if maySteer && !asking && !saying}
    {#if run.paused}{@render action('resume', () => void attempt(() => api.resumeRun(run.id)))}{:else}{@render action(
        'pause',
        () => (asking = 'pause'),
      )}{/if}
    {@render action('stop', () => (asking = 'stop'))}
    {@render action('say what to do', () => (saying = true))}
  {/if}
  {#if saying}<Steer {run} onDone={() => ((saying = false), onChanged())} onBack={() => (saying = false)} />{/if}
  {#if asking}
    {@const { ask, does, work } = ASKS[asking]}
    <form class="mt-1 flex gap-2" onsubmit={(event) => (event.preventDefault(), void attempt(() => work(words)))}>
      <input class="field" aria-label={ask} placeholder={ask} bind:value={words} />
      <button class="button" disabled={!words.trim()}>{does}</button>
      <button type="button" class="button" onclick={() => (asking = undefined)}>Back</button>
    </form>
  {/if}
  {#if failure}<span role="alert" class="block text-ink">{failure.message}</span>{/if}
</div>
