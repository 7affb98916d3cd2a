<script lang="ts">
  import { untrack } from 'svelte';
  import ValueView from '../parts/value-view.svelte';
  import { comes, edits, fails, gives, type Open, says, type Says, skeleton } from './tries';

  /** What nobody has answered yet, and where whoever tries it does. */
  let {
    open,
    onAnswer,
    onSilent,
    onForReal,
  }: { open: Open; onAnswer: (answer: Record<string, unknown>) => void; onSilent: () => void; onForReal: () => void } = $props();

  const asksWorld = $derived(open.sort !== 'people' && open.sort !== 'wait');
  const PROBLEMS = ['not-found', 'invalid', 'conflict', 'refused', 'unavailable', 'timeout'];
  const HEAD = {
    tool: 'What does it answer?',
    hand: 'Held, in shadow: what comes of it by hand?',
    model: 'What does the model answer?',
    people: 'What do people answer?',
    wait: 'What comes?',
  } as const;

  let json = $state(untrack(() => JSON.stringify(skeleton(open.schema, open.shown), null, 2)));
  let by = $state(untrack(() => String(open.suggested?.['by'] ?? '')));
  let reason = $state(untrack(() => String(open.suggested?.['reason'] ?? '')));
  let texts = $state<Record<string, string>>(untrack(() => Object.fromEntries(edits(open).map(({ key, text }) => [key, text]))));
  let form = $state(
    untrack(() => (open.shown['form'] ? JSON.stringify(skeleton((open.shown['form'] as { schema: object }).schema), null, 2) : '')),
  );
  let named = $state(untrack(() => (open.what === 'case' ? 'resolved' : String(open.shown['named'] ?? ''))));
  let text = $state('');
  let wrong = $state('');

  function withJson(use: () => Record<string, unknown>): void {
    wrong = '';
    let answer: Record<string, unknown>;
    try {
      answer = use();
    } catch {
      wrong = 'That isn’t JSON yet.';
      return;
    }
    onAnswer(answer);
  }

  function say(word: Says): void {
    withJson(() => says(open, word, by, reason, texts, word === 'approve' && form ? JSON.parse(form) : undefined));
  }
</script>

<section class="sheet space-y-3 border-l-4 border-l-signal p-4" aria-labelledby="open">
  <p class="text-sm text-faint">at ‘{open.step}’</p>
  <h2 id="open">{HEAD[open.sort]}</h2>
  {#if asksWorld}
    <p><span class="font-mono wrap-anywhere">{open.what}</span>{open.sort === 'model' ? ' would be told:' : ' would be called with:'}</p>
    {#if open.sort === 'model'}
      <details>
        <summary class="cursor-pointer text-accent">All that it would be told</summary>
        <pre class="mt-2 max-h-80 overflow-auto text-xs whitespace-pre-wrap">{open.shown['system']}

{open.shown['user']}</pre>
      </details>
    {:else}
      <ValueView value={open.shown} />
    {/if}
    <label class="label" for="json">The answer, as JSON</label>
    <textarea id="json" class="field font-mono text-sm" rows={Math.min(16, json.split('\n').length + 1)} bind:value={json}></textarea>
    <div class="flex flex-wrap items-center gap-3">
      <button class="button" onclick={() => withJson(() => gives(open, JSON.parse(json)))}>Answer so</button>
      {#if !open.notForReal}
        <button class="button" onclick={onForReal}>{open.sort === 'model' ? 'Ask the model' : 'Look it up for real'}</button>
      {/if}
      <label class="text-sm">
        or it fails:
        <select
          class="field inline w-auto"
          onchange={(event) => {
            if (event.currentTarget.value) onAnswer(fails(open, event.currentTarget.value));
          }}
        >
          <option value=""></option>
          {#each PROBLEMS as problem (problem)}<option>{problem}</option>{/each}
        </select>
      </label>
    </div>
    {#if open.notForReal}<p class="text-sm text-faint">Not asked for real: {open.notForReal}.</p>{/if}
  {:else if open.sort === 'people'}
    <p class="font-semibold wrap-anywhere">{open.what}</p>
    <details open={!edits(open).length}>
      <summary class="cursor-pointer text-accent">What they see</summary>
      <div class="mt-2"><ValueView value={open.shown} /></div>
    </details>
    {#each edits(open) as { key } (key)}
      <div>
        <label class="label" for="text-{key}">{key}</label>
        <textarea id="text-{key}" class="field" rows="5" bind:value={texts[key]}></textarea>
      </div>
    {/each}
    {#if form}
      <div>
        <label class="label" for="form">The form, as JSON</label>
        <textarea id="form" class="field font-mono text-sm" rows="5" bind:value={form}></textarea>
      </div>
    {/if}
    <div class="grid gap-3 sm:grid-cols-2">
      <div><label class="label" for="by">Who</label><input id="by" class="field" bind:value={by} /></div>
      <div><label class="label" for="reason">Why, or what to change</label><input id="reason" class="field" bind:value={reason} /></div>
    </div>
    <div class="flex flex-wrap gap-3">
      <button class="button" onclick={() => say('approve')}>They approve</button>
      <button class="button" disabled={!reason.trim()} onclick={() => say('decline')}>They decline</button>
      {#if open.shown['feedback']}<button class="button" disabled={!reason.trim()} onclick={() => say('feedback')}>They send it back</button
        >{/if}
      <button class="button" onclick={onSilent}>Nobody answers</button>
    </div>
  {:else}
    <p>It waits for a {open.what}{named ? ` ‘${named}’` : ''}.</p>
    {#if open.what !== 'reply' && open.what !== 'time'}
      <div>
        <label class="label" for="named">{open.what === 'case' ? 'It ends' : 'Its name'}</label><input
          id="named"
          class="field"
          bind:value={named}
        />
      </div>
    {/if}
    {#if open.what !== 'case'}
      <div>
        <label class="label" for="came">{open.what === 'event' ? 'What it tells, as JSON' : 'What it says'}</label>
        <textarea id="came" class="field" rows="4" bind:value={text}></textarea>
      </div>
    {/if}
    <div class="flex flex-wrap gap-3">
      <button class="button" onclick={() => withJson(() => comes(open, named, text))}>It comes</button>
      <button class="button" onclick={onSilent}>Nothing comes</button>
    </div>
  {/if}
  {#if wrong}<p role="alert" class="text-signal">{wrong}</p>{/if}
</section>
