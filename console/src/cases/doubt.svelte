<script lang="ts">
  import { api, type Run, ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import ValueView from '../parts/value-view.svelte';

  /** A call that may or may not have happened, and where somebody who knows says which. */
  let { run, onChanged }: { run: Run; onChanged: () => void } = $props();

  let reason = $state('');
  let result = $state('');
  let failure = $state<ApiError>();

  async function settle(happened: boolean): Promise<void> {
    failure = undefined;
    let value: unknown;
    if (happened) {
      try {
        value = JSON.parse(result || '{}');
      } catch {
        failure = new ApiError(0, 'The result can’t be read', 'Write what the system answered as JSON.');
        return;
      }
    }
    try {
      await api.settleRun(run.id, { happened, reason, ...(happened ? { result: value } : {}) });
      onChanged();
    } catch (error) {
      failure = error as ApiError;
    }
  }
</script>

{#if run.doubt}
  <section class="sheet mb-3 space-y-3 border-l-4 border-l-signal bg-signal-soft p-4" aria-labelledby="doubt-{run.id}">
    <h3 id="doubt-{run.id}" class="font-semibold">Did this happen?</h3>
    <p>
      <span class="font-mono">{run.doubt.tool}</span> was sent and no answer came. It can’t be repeated blindly, so the run waits for
      somebody who looks it up. Key: <span class="font-mono text-sm break-all">{run.doubt.key}</span>
    </p>
    <ValueView value={run.doubt.inputs} />
    <div>
      <label class="label" for="how-{run.id}">How do you know?</label>
      <input id="how-{run.id}" class="field" bind:value={reason} />
    </div>
    <div>
      <label class="label" for="result-{run.id}">If it happened: what it gave, as JSON</label>
      <textarea id="result-{run.id}" class="field font-mono text-sm" rows="2" bind:value={result}></textarea>
    </div>
    {#if failure}<FailureNote {failure} />{/if}
    <div class="flex gap-3">
      <button class="button" disabled={!reason.trim()} onclick={() => settle(true)}>It happened</button>
      <button class="button" disabled={!reason.trim()} onclick={() => settle(false)}>It did not; send it</button>
    </div>
  </section>
{/if}
