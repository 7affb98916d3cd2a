<script lang="ts">
  import { api, type Run, type Steering, ApiError } from '../api/client';

  /** The box for what should be done, in one's own words; how that is read is shown before it counts. */
  let { run, onDone, onBack }: { run: Run; onDone: () => void; onBack: () => void } = $props();

  let words = $state('');
  let read = $state<Steering>();
  let failure = $state<ApiError>();

  async function attempt(work: () => Promise<void>): Promise<void> {
    failure = undefined;
    try {
      await work();
    } catch (error) {
      failure = error as ApiError;
    }
  }

  const show = (event: SubmitEvent): void => {
    event.preventDefault();
    void attempt(async () => {
      read = await api.readSteering(run.id, words);
    });
  };

  const doIt = ({ does, text, trouble }: Steering): Promise<void> =>
    attempt(async () => {
      if (does === 'tell') await api.adviseRun(run.id, text);
      else if (does === 'resume') await api.resumeRun(run.id);
      else if (does === 'stop') await api.stopRun(run.id, text);
      else if ((does === 'retry' || does === 'skip') && trouble) await api.mendRun(run.id, trouble, { does, reason: text });
      onDone();
    });
</script>

<form class="mt-1 space-y-1" onsubmit={show}>
  <div class="flex flex-wrap gap-2">
    <input
      class="field min-w-60 grow"
      aria-label="What should be done?"
      placeholder="go ahead · skip that · stop · or what should be different"
      maxlength="2000"
      bind:value={words}
      oninput={() => (read = undefined)}
    />
    <button class="button" disabled={!words.trim()}>Read it</button>
    <button type="button" class="button" onclick={onBack}>Back</button>
  </div>
  {#if read}
    <div role="status" class="flex flex-wrap items-baseline gap-x-3 gap-y-1 border-l-4 border-l-accent pl-3 text-ink">
      <span><span class="font-semibold">{read.said}</span>: {read.words}</span>
      {#if read.does === 'decide'}<a href="/approvals/{read.approval}">Open the sheet</a>
      {:else if read.does !== 'nothing'}
        <button type="button" class="button button-main" onclick={() => void doIt(read!)}>Yes, that is meant</button>
      {/if}
    </div>
  {/if}
  {#if failure}<span role="alert" class="block text-ink">{failure.message}</span>{/if}
</form>
