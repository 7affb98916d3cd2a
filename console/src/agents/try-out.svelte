<script lang="ts">
  import { api, type Agent, ApiError, type StepTried, type StepWanted, type Told } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import { namedValues } from '../parts/named-values';
  import { session } from '../shell/session.svelte';
  import { YamlFile } from '../handbook/forms/yaml-file';
  import Samples from './samples.svelte';
  import ToldView from './told-view.svelte';
  import TriedView from './tried-view.svelte';

  /** What the agent would be told at a step, and what it would do there. */
  let { name, pages }: { name: string; pages: Agent['pages'] } = $props();

  const usable = $derived(pages.filter((page) => page.steps.length));
  let page = $state('');
  let step = $state('');
  const chosen = $derived(usable.find((one) => one.name === page) ?? usable[0]);
  const at = $derived(chosen?.steps.find((one) => one.address === step) ?? chosen?.steps[0]);

  let about = $state<'text' | 'case'>('text');
  let caseId = $state('');
  let subject = $state('');
  let text = $state('');
  let language = $state('en');
  let facts = $state('');
  let draft = $state<'force' | 'draft' | 'both'>('force');

  let told = $state<Told>();
  let tried = $state<{ by: string; came: StepTried }[]>([]);
  let failure = $state<ApiError>();
  let busy = $state(false);
  let kept = $state(false);
  let samples = $state<ReturnType<typeof Samples>>();

  const wanted = (byDraft: boolean): StepWanted => ({
    page: chosen?.name ?? null,
    step: at?.address ?? null,
    facts: namedValues(facts) as never,
    draft: byDraft,
    ...(about === 'case' ? { caseId } : { subject, text, language }),
  });

  async function work(what: () => Promise<void>): Promise<void> {
    busy = true;
    told = failure = undefined;
    tried = [];
    kept = false;
    try {
      await what();
    } catch (error) {
      failure = error as ApiError;
    } finally {
      busy = false;
    }
  }

  const show = (): Promise<void> =>
    work(async () => {
      told = await api.agentPrompt(name, wanted(draft !== 'force'));
    });

  const keep = (): Promise<void> =>
    work(async () => {
      const path = `agents/${name}.yaml`;
      const file = new YamlFile((await api.draftFile(path)).text ?? '');
      const known = namedValues(facts);
      const sample = {
        page: chosen!.name,
        step: at!.title,
        ...(subject.trim() && { subject: subject.trim() }),
        ...(text.trim() && { text: text.trim() }),
        ...(language !== 'en' && { language }),
        ...(Object.keys(known).length && { facts: known }),
      };
      await api.putDraft(path, file.added(['samples'], sample));
      kept = true;
      await samples?.refresh();
    });

  function use(sample: Agent['samples'][number]): void {
    page = sample.page;
    step =
      usable.find((one) => one.name === sample.page)?.steps.find((one) => one.title.toLowerCase() === sample.step.toLowerCase())?.address ??
      '';
    about = 'text';
    ({ subject, text, language } = sample);
    facts = Object.entries(sample.facts as Record<string, unknown>)
      .map(([key, value]) => `${key}: ${JSON.stringify(value)}`)
      .join('\n');
  }

  const ask = (event: SubmitEvent): Promise<void> => {
    event.preventDefault();
    return work(async () => {
      const ways = draft === 'both' ? [false, true] : [draft === 'draft'];
      const all = await Promise.all(ways.map((byDraft) => api.tryStep(name, wanted(byDraft))));
      tried = all.map((came, index) => ({ by: ways[index] ? 'your draft' : 'the edition in force', came }));
    });
  };
</script>

<form class="sheet space-y-3 p-4" onsubmit={ask} aria-label="Try it out">
  <h2>Try it out</h2>
  {#if !usable.length}
    <p class="text-faint">It works no page with a step that asks a model, so there is nothing to try.</p>
  {:else}
    <p class="text-sm text-faint">No tool is called, and nothing is kept on a case. Asking the model is noted with your name.</p>
    <div class="grid gap-3 sm:grid-cols-2">
      <div>
        <label class="label" for="try-page">Page</label>
        <select id="try-page" class="field w-full" value={chosen?.name} onchange={(event) => (page = event.currentTarget.value)}>
          {#each usable as one (one.name)}<option value={one.name}>{one.title}</option>{/each}
        </select>
      </div>
      <div>
        <label class="label" for="try-step">Step</label>
        <select id="try-step" class="field w-full" value={at?.address} onchange={(event) => (step = event.currentTarget.value)}>
          {#each chosen?.steps ?? [] as one (one.address)}<option value={one.address}>{one.title} ({one.verb})</option>{/each}
        </select>
      </div>
    </div>
    <fieldset class="flex flex-wrap gap-x-5 gap-y-1">
      <legend class="sr-only">About</legend>
      <label><input type="radio" bind:group={about} value="text" /> a text</label>
      <label><input type="radio" bind:group={about} value="case" /> a case, with what its last run knows</label>
    </fieldset>
    {#if about === 'case'}
      <div>
        <label class="label" for="try-case">Case</label>
        <input id="try-case" class="field w-40" bind:value={caseId} placeholder="C-1001" required />
      </div>
    {:else}
      <div class="grid gap-3 sm:grid-cols-[minmax(0,1fr)_7rem]">
        <div>
          <label class="label" for="try-subject">Subject</label>
          <input id="try-subject" class="field w-full" bind:value={subject} />
        </div>
        <div>
          <label class="label" for="try-language">Language</label>
          <input id="try-language" class="field w-full" bind:value={language} pattern={'[a-z]{2,3}(-[A-Za-z0-9]+)*'} />
        </div>
      </div>
      <div>
        <label class="label" for="try-text">Text</label>
        <textarea id="try-text" class="field w-full" rows="4" maxlength="20000" bind:value={text}></textarea>
      </div>
    {/if}
    <div>
      <label class="label" for="try-facts">Facts that earlier steps would have saved, one a line</label>
      <textarea
        id="try-facts"
        class="field w-full font-mono text-sm"
        rows="2"
        bind:value={facts}
        placeholder={'booking: {"reference": "SK-48213", "paid": 84.5}'}></textarea>
    </div>
    <div class="flex flex-wrap items-end gap-3">
      {#if session.is('engineer')}
        <div>
          <label class="label" for="try-by">By</label>
          <select id="try-by" class="field" bind:value={draft}>
            <option value="force">the edition in force</option>
            <option value="draft">my draft</option>
            <option value="both">both, side by side</option>
          </select>
        </div>
        <button class="button button-main" disabled={busy}>Ask the model</button>
      {/if}
      <button type="button" class="button" disabled={busy} onclick={show}>See what it is told</button>
      {#if session.is('engineer') && about === 'text'}
        <button type="button" class="button" disabled={busy || !(subject.trim() || text.trim())} onclick={keep}>Keep as a sample</button>
      {/if}
      {#if busy}<span class="text-sm text-faint" role="status">asking…</span>{/if}
    </div>
  {/if}
  {#if kept}<p class="text-sm" role="status">Kept in your draft of the agent’s file; publish it to keep it for everybody.</p>{/if}
  {#if failure}<FailureNote {failure} />{/if}
  {#if told}<ToldView {told} />{/if}
  {#if tried.length}
    <div class={['grid gap-4', tried.length > 1 && 'md:grid-cols-2']} role="status">
      {#each tried as { by, came }, index (by)}
        <TriedView {by} {came} other={tried.length > 1 ? tried[1 - index]!.came : undefined} />
      {/each}
    </div>
  {/if}
</form>
{#if session.is('engineer') && usable.length}<Samples bind:this={samples} {name} onUse={use} />{/if}
