<script lang="ts">
  import { api, type Run, ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import When from '../parts/when.svelte';
  import { session } from '../shell/session.svelte';

  /** Something that went wrong in a run, and what a person can do about it. */
  let { run, trouble, onChanged }: { run: Run; trouble: Run['troubles'][number]; onChanged: () => void } = $props();

  const TITLES = {
    failed: 'This went wrong',
    stuck: 'This broke again and again',
    late: 'This came too late',
    undelivered: 'A mail did not arrive',
    nobody: 'Nobody can answer an approval',
    'handed-over': 'This was handed over to people',
  };
  const onlyNoted = $derived(['late', 'undelivered', 'handed-over', 'nobody'].includes(trouble.what));
  let reason = $state('');
  let result = $state('');
  let failure = $state<ApiError>();

  async function mend(does: 'retry' | 'skip' | 'take-over'): Promise<void> {
    failure = undefined;
    let value: unknown;
    if (does === 'skip' && result.trim()) {
      try {
        value = JSON.parse(result);
      } catch {
        failure = new ApiError(0, 'The result can’t be read', 'Write what the call would have answered as JSON.');
        return;
      }
    }
    try {
      await api.mendRun(run.id, trouble.id, { does, reason, ...(value === undefined ? {} : { result: value }) });
      onChanged();
    } catch (error) {
      failure = error as ApiError;
    }
  }
</script>

<section class="sheet mb-3 space-y-3 border-l-4 border-l-signal bg-signal-soft p-4" aria-labelledby="trouble-{trouble.id}">
  <h3 id="trouble-{trouble.id}" class="font-semibold">{TITLES[trouble.what]}</h3>
  <p>At ‘{trouble.step}’, <When time={trouble.at} />: <span class="font-semibold">{trouble.problem}</span>. {trouble.detail}</p>
  {#if session.is('engineer', 'resolver')}
    <div>
      <label class="label" for="why-{trouble.id}">What do you do about it, and why?</label>
      <input id="why-{trouble.id}" class="field" bind:value={reason} />
    </div>
    {#if trouble.what === 'failed'}
      <div>
        <label class="label" for="gives-{trouble.id}">If you skip a call that gives something: what it would have given, as JSON</label>
        <textarea id="gives-{trouble.id}" class="field font-mono text-sm" rows="1" bind:value={result}></textarea>
      </div>
    {/if}
    {#if failure}<FailureNote {failure} />{/if}
    <div class="flex flex-wrap gap-3">
      {#if !onlyNoted}<button class="button" disabled={!reason.trim()} onclick={() => mend('retry')}>Try it again</button>{/if}
      {#if trouble.what === 'failed'}<button class="button" disabled={!reason.trim()} onclick={() => mend('skip')}>Skip the step</button
        >{/if}
      <button class="button" disabled={!reason.trim()} onclick={() => mend('take-over')}
        >{onlyNoted ? 'I have taken note' : 'I take it over'}</button
      >
    </div>
  {/if}
</section>
