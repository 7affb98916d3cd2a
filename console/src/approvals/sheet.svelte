<script lang="ts">
  import { tick } from 'svelte';
  import { api } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import MachineMark from '../parts/machine-mark.svelte';
  import StateWord from '../parts/state-word.svelte';
  import TimeLeft from '../parts/time-left.svelte';
  import TroubleNote from '../parts/trouble-note.svelte';
  import ValueView from '../parts/value-view.svelte';
  import Waiting from '../parts/waiting.svelte';
  import When from '../parts/when.svelte';
  import { go, route } from '../router';
  import CallView from './call-view.svelte';
  import { Decision } from './decision.svelte';
  import Difference from './difference.svelte';

  const id = $derived((route.params as { id: string }).id);
  const decision = new Decision();
  const loaded = new Loaded(async () => {
    const [sheet, open] = await Promise.all([api.approval(id), api.approvals('open')]);
    decision.take(sheet);
    return { next: open.find((item) => item.asked && item.id !== id)?.id };
  });
  $effect(() => {
    void id;
    return loaded.follow();
  });

  async function onKey(event: KeyboardEvent): Promise<void> {
    if (event.ctrlKey || event.metaKey || event.altKey || /^(INPUT|TEXTAREA|SELECT)$/.test((event.target as HTMLElement).tagName)) {
      return;
    }
    if (event.key === 'a' && decision.open) {
      event.preventDefault();
      await decision.approve();
    } else if (event.key === 'd' && decision.open) {
      event.preventDefault();
      await decline();
    } else if (event.key === 'e') {
      event.preventDefault();
      document.getElementById('text')?.focus();
    } else if (event.key === 'n' && loaded.value?.next) {
      go(`/approvals/${loaded.value.next}`);
    }
  }

  async function decline(): Promise<void> {
    await decision.decline();
    await tick();
    document.getElementById('reason')?.focus();
  }
</script>

<svelte:document onkeydown={onKey} />

<Waiting {loaded}>
  {#snippet children({ next })}
    {@const sheet = decision.sheet}
    {#if sheet}
      {@const summary = sheet.summary}
      <p class="text-faint"><a href="/approvals">Approvals</a> / {summary.id}</p>
      <h1 class="mb-1">{summary.question}</h1>
      <p class="mb-5 flex flex-wrap items-baseline gap-x-3 text-faint">
        <StateWord state={summary.state} needsPerson={summary.state === 'open'} />
        <span>{sheet.agent} in ‘{sheet.pageTitle}’, step ‘{sheet.stepTitle}’</span>
        <span>asks {summary.of.join(' and ')}</span>
        {#if summary.due && summary.state === 'open'}<span><TimeLeft due={summary.due} />, then it lapses and nothing is done</span>{/if}
      </p>
      <div class="grid gap-6 lg:grid-cols-[3fr_2fr]">
        <div class="space-y-5">
          {#if sheet.sheet.call}<CallView call={sheet.sheet.call} why={sheet.sheet.why ?? ''} />{/if}
          {#if sheet.sheet.edit}
            <section class="sheet p-4" aria-labelledby="will-be-sent">
              <h2 id="will-be-sent" class="mb-2 flex flex-wrap items-baseline gap-x-3">
                What will be sent
                {#if sheet.sheet.edit.written}<MachineMark by={sheet.written?.model ?? ''} />{/if}
              </h2>
              {#if decision.open}
                <label class="sr-only" for="text">The text, which you may change</label>
                <textarea id="text" class="field" rows="6" bind:value={decision.text}></textarea>
                {#if decision.edited}
                  <p class="mt-3 text-sm text-faint">Your changes:</p>
                  <Difference before={decision.original} after={decision.text} />
                {/if}
              {:else}
                {@const edit = sheet.answers.find((answer) => answer.edited)}
                {#if edit?.edited}<Difference before={decision.original} after={edit.edited} />{:else}<p class="whitespace-pre-wrap">{sheet.sheet.edit.text}</p>{/if}
              {/if}
              {#if sheet.written}
                <p class="mt-3 text-sm text-faint">The model is {Math.round(sheet.written.sure * 100)} % sure: {sheet.written.reason}</p>
              {/if}
            </section>
          {/if}

          {#if decision.trouble}<TroubleNote trouble={decision.trouble} />{/if}
          {#if decision.stale}<p role="alert" class="sheet border-l-4 border-l-ink p-3">What is asked has changed while you were editing. Copy your text, then reload.</p>{/if}

          {#if decision.open}
            <form class="space-y-3" onsubmit={(event) => event.preventDefault()}>
              {#if decision.declining}
                <div>
                  <label class="label" for="reason">Why not? The answer to the requester is written from this.</label>
                  <textarea id="reason" class="field" rows="2" bind:value={decision.reason}></textarea>
                </div>
              {/if}
              <div class="flex flex-wrap gap-3">
                {#if !decision.declining}
                  <button type="button" class="button button-main" disabled={decision.busy} onclick={() => decision.approve()}>
                    Approve{decision.edited ? ' with my changes' : ''} <kbd class="font-mono text-sm opacity-80">a</kbd>
                  </button>
                {/if}
                <button type="button" class="button" disabled={decision.busy || (decision.declining && !decision.reason.trim())} onclick={decline}>
                  Decline {#if !decision.declining}<kbd class="font-mono text-sm opacity-80">d</kbd>{/if}
                </button>
                {#if decision.declining}<button type="button" class="button" onclick={() => (decision.declining = false)}>Back</button>{/if}
              </div>
            </form>
          {:else}
            <section class="space-y-2" aria-live="polite">
              {#each sheet.answers as answer (answer.person.id)}
                <p>
                  <span class="font-semibold">{answer.person.name}</span>
                  {answer.approves ? 'approved' : 'declined'}{answer.edited ? ' with changes' : ''} <When time={answer.at} />{answer.reason ? `: ${answer.reason}` : '.'}
                </p>
              {:else}
                <p class="text-faint">{summary.state === 'open' ? 'This asks others, not you.' : `This is ${summary.state}.`}</p>
              {/each}
              {#if next}<a href="/approvals/{next}">Go to the next one</a> <kbd class="font-mono text-sm text-faint">n</kbd>{/if}
            </section>
          {/if}
        </div>

        <div class="space-y-5">
          <section class="sheet p-4" aria-label="The request">
            <h2 class="mb-2">
              {summary.requester.name} asks
              <span class={['font-normal', sheet.proof === 'claimed' ? 'text-signal' : 'text-faint']}>({sheet.proof === 'claimed' ? 'only claimed: nobody has proved who this is' : sheet.proof})</span>
            </h2>
            <p class="mb-1 font-semibold">{summary.caseSubject}</p>
            <p class="mb-3 whitespace-pre-wrap">{sheet.requestText}</p>
            <ValueView value={sheet.requestFields} />
            {#if sheet.caseVisible}<p class="mt-3"><a href="/cases/{summary.caseId}">Open the case {summary.caseId}</a></p>{/if}
          </section>
          <section class="sheet p-4" aria-label="What it rests on">
            <h2 class="mb-2">What it rests on</h2>
            {#each sheet.known.filter((known) => !known.written) as known (known.name)}
              <h3 class="mt-2 font-semibold">{known.name} <span class="font-normal text-faint">from {known.origins.join(', ')}</span></h3>
              <ValueView value={known.value} />
            {:else}<p class="text-faint">Nothing has been looked up yet.</p>{/each}
          </section>
        </div>
      </div>
    {/if}
  {/snippet}
</Waiting>
