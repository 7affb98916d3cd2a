<script lang="ts">
  import { api, type Run, Trouble } from '../api/client';
  import TroubleNote from '../parts/trouble-note.svelte';
  import When from '../parts/when.svelte';
  import { session } from '../shell/session.svelte';

  /** Something that went wrong in a run, and what a person can do about it. */
  let { run, wrong, onChanged }: { run: Run; wrong: Run['wrong'][number]; onChanged: () => void } = $props();

  const TITLES = { failed: 'This went wrong', stuck: 'This broke again and again', late: 'This came too late' };
  let reason = $state('');
  let result = $state('');
  let trouble = $state<Trouble>();

  async function mend(does: 'retry' | 'skip' | 'take-over'): Promise<void> {
    trouble = undefined;
    let value: unknown;
    if (does === 'skip' && result.trim()) {
      try {
        value = JSON.parse(result);
      } catch {
        trouble = new Trouble(0, 'The result can’t be read', 'Write what the call would have answered as JSON.');
        return;
      }
    }
    try {
      await api.mendRun(run.id, wrong.id, { does, reason, ...(value === undefined ? {} : { result: value }) });
      onChanged();
    } catch (error) {
      trouble = error as Trouble;
    }
  }
</script>

<section class="sheet mb-3 space-y-3 border-l-4 border-l-signal bg-signal-soft p-4" aria-labelledby="wrong-{wrong.id}">
  <h3 id="wrong-{wrong.id}" class="font-semibold">{TITLES[wrong.what]}</h3>
  <p>At ‘{wrong.step}’, <When time={wrong.at} />: <span class="font-semibold">{wrong.problem}</span>. {wrong.detail}</p>
  {#if session.is('engineer', 'resolver')}
    <div>
      <label class="label" for="why-{wrong.id}">What do you do about it, and why?</label>
      <input id="why-{wrong.id}" class="field" bind:value={reason} />
    </div>
    {#if wrong.what === 'failed'}
      <div>
        <label class="label" for="gives-{wrong.id}">If you skip a call that gives something: what it would have given, as JSON</label>
        <textarea id="gives-{wrong.id}" class="field font-mono text-sm" rows="1" bind:value={result}></textarea>
      </div>
    {/if}
    {#if trouble}<TroubleNote {trouble} />{/if}
    <div class="flex flex-wrap gap-3">
      {#if wrong.what !== 'late'}<button class="button" disabled={!reason.trim()} onclick={() => mend('retry')}>Try it again</button>{/if}
      {#if wrong.what === 'failed'}<button class="button" disabled={!reason.trim()} onclick={() => mend('skip')}>Skip the step</button>{/if}
      <button class="button" disabled={!reason.trim()} onclick={() => mend('take-over')}
        >{wrong.what === 'late' ? 'I have taken note' : 'I take it over'}</button
      >
    </div>
  {/if}
</section>
