<script lang="ts">
  import { tick } from 'svelte';
  import { api } from '../api/client';
  import Files from '../documents/files.svelte';
  import KnownValue from '../documents/known-value.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import MachineMark from '../parts/machine-mark.svelte';
  import StateWord from '../parts/state-word.svelte';
  import TimeLeft from '../parts/time-left.svelte';
  import FailureNote from '../parts/failure-note.svelte';
  import ValueView from '../parts/value-view.svelte';
  import Waiting from '../parts/waiting.svelte';
  import When from '../parts/when.svelte';
  import { go, route } from '../router';
  import { asked } from './asked.svelte';
  import CallView from './call-view.svelte';
  import { Decision } from './decision.svelte';
  import Earlier from './earlier.svelte';
  import FoundView from './found-view.svelte';
  import HandOver from './hand-over.svelte';
  import PlanLine from './plan-line.svelte';
  import SeenBy from './seen-by.svelte';
  import AnswerForm from './answer-form.svelte';
  import Edits from './edits.svelte';
  import FormFields from './form-fields.svelte';

  const id = $derived((route.params as { id: string }).id);
  const decision = new Decision();
  /** What somebody was shown then, instead of what is asked now. */
  const picture = $derived(String(route.search['seen'] ?? ''));
  const loaded = new Loaded(async () => {
    const [sheet, open] = await Promise.all([
      picture ? api.approvalAsSeen(id, picture) : api.approval(id),
      api.approvals({ asked: true, limit: 2 }),
    ]);
    decision.take(sheet);
    return { next: open.items.find((item) => item.id !== id)?.id };
  });
  $effect(() => {
    void [id, picture];
    return loaded.follow();
  });

  async function onKey(event: KeyboardEvent): Promise<void> {
    if (event.ctrlKey || event.metaKey || event.altKey || /^(INPUT|TEXTAREA|SELECT)$/.test((event.target as HTMLElement).tagName)) {
      return;
    }
    if (event.key === 'a' && decision.open && !event.repeat) {
      event.preventDefault();
      await decision.approve();
    } else if (event.key === 'd' && decision.open) {
      event.preventDefault();
      await words(() => decision.decline());
    } else if (event.key === 'f' && decision.open && decision.rounds > 0) {
      event.preventDefault();
      await words(() => decision.sendBack());
    } else if (event.key === 'e') {
      event.preventDefault();
      document.getElementById('text-0')?.focus();
    } else if (event.key === 'n' && loaded.value?.next) {
      go(`/approvals/${loaded.value.next}`);
    }
  }

  const SAID = { approve: 'approved', decline: 'declined', feedback: 'sent it back' };

  /** Does what needs words, and leads to where they are written. */
  async function words(act: () => Promise<void>): Promise<void> {
    await act();
    await tick();
    document.getElementById('reason')?.focus();
  }

  /** Whether a value is what a model judged, with its reason. */
  function isJudged({ written, value }: { written: boolean; value: unknown }): boolean {
    const judged = value as { reason?: unknown; sure?: unknown } | null;
    return written && typeof judged === 'object' && typeof judged?.reason === 'string' && typeof judged.sure === 'number';
  }

  /** Whether a value that is known stands on the sheet itself: to be edited, or because the page shows it. */
  function shownBeside(sheet: { show?: object; edits?: { key: string }[] }, name: string): boolean {
    return name in (sheet.show ?? {}) || (sheet.edits ?? []).some((edit) => edit.key === name || edit.key.startsWith(`${name}.`));
  }
</script>

<svelte:head
  >{#if decision.sheet}<title>{asked.titled(`${decision.sheet.summary.headline} ${decision.sheet.summary.caseId}`)}</title
    >{/if}</svelte:head
>

<svelte:document onkeydown={onKey} />

<Waiting {loaded}>
  {#snippet children({ next })}
    {@const sheet = decision.sheet}
    {#if sheet}
      {@const summary = sheet.summary}
      <p class="text-faint"><a href="/approvals">Approvals</a> / {summary.id}</p>
      <h1 class="mb-1 wrap-anywhere">{summary.about === 'text' ? summary.question : summary.headline}</h1>
      <p class="mb-5 flex flex-wrap items-baseline gap-x-3 text-faint">
        <StateWord state={summary.state} needsPerson={summary.state === 'open'} />
        <span>{summary.about === 'call' ? `${sheet.agent} asks` : 'asks'} {summary.quorum} {summary.asks.join(' and ')}</span>
        {#if summary.handedTo}<span class="text-ink">handed to {summary.handedTo.name}</span>{/if}
        {#if summary.paused}<span>its time stands still: {summary.paused}</span>{:else if summary.due && summary.state === 'open'}<span
            ><TimeLeft due={summary.due} />, then it lapses</span
          >{/if}
        <span class="text-sm">‘{sheet.pageTitle}’, step ‘{sheet.stepTitle}’</span>
      </p>
      {@const judged = sheet.known.filter((one) => isJudged(one) && !shownBeside(sheet.sheet, one.name))}
      {@const rests = sheet.known.filter((one) => !judged.includes(one) && !shownBeside(sheet.sheet, one.name))}
      {#if picture}<p class="sheet mb-5 border-l-4 border-l-accent p-3">
          This is what was shown then. <a href="/approvals/{id}">See it as it is now</a>
        </p>{/if}
      <div
        class={[
          'flex flex-col gap-5',
          decision.open && 'max-sm:pb-16',
          'lg:grid lg:grid-cols-[minmax(0,3fr)_minmax(0,2fr)] lg:items-start lg:gap-6',
        ]}
      >
        <div class="contents lg:block lg:space-y-5">
          <div class="order-1 space-y-5">
            {#if sheet.sheet.call}<CallView
                call={sheet.sheet.call}
                why={sheet.sheet.why ?? ''}
                currency={sheet.sheet.currency ?? ''}
                caseId={summary.caseId}
              />{/if}
            {#if sheet.sheet.plan}
              <section class="sheet p-4" aria-labelledby="plan">
                <h2 id="plan" class="mb-2 flex flex-wrap items-baseline gap-x-3">What the agent means to do <MachineMark /></h2>
                <ol class="list-decimal space-y-1 pl-5">
                  {#each sheet.sheet.plan as step, index (index)}<li><PlanLine {step} /></li>{/each}
                </ol>
                <p class="mt-2 text-sm text-faint">
                  Nothing beyond this is done without asking again{sheet.sheet.looks === 'freely'
                    ? ', but for looking at what isn’t personal'
                    : ''}. What the mandate asks about is still asked.
                </p>
                {#if sheet.sheet.why}<p class="mt-2 text-sm text-faint">Why: {sheet.sheet.why}</p>{/if}
              </section>
            {/if}
            {#if sheet.sheet.edits?.length}<Edits {decision} />{/if}
            {#if sheet.sheet.show}
              <section class="sheet space-y-2 p-4" aria-label="What you are shown">
                {#each Object.entries(sheet.sheet.show) as [name, value] (name)}
                  {@const known = sheet.known.find((one) => one.name === name)}
                  <h3 class="mt-3 flex flex-wrap items-baseline gap-x-3 font-semibold first:mt-0">
                    {name}
                    {#if known?.written}<MachineMark />{/if}
                  </h3>
                  <KnownValue {value} found={known?.found} caseId={summary.caseId} />
                {/each}
              </section>
            {/if}
          </div>
          {#if judged.length}<div class="order-3"><FoundView known={judged} caseId={summary.caseId} /></div>{/if}
          <div class="order-6 space-y-5">
            {#if sheet.sheet.form && decision.open}<FormFields {decision} />{/if}
            {#if decision.failure}<FailureNote failure={decision.failure} />{/if}
            {#if decision.stale}<p role="alert" class="sheet border-l-4 border-l-ink p-3">
                What is asked has changed while you were editing. Copy your text, then reload.
              </p>{/if}
            {#if decision.open}
              <AnswerForm
                {decision}
                onDecline={() => words(() => decision.decline())}
                onSendBack={() => words(() => decision.sendBack())}
              />
              <HandOver {decision} />
            {:else}
              <section class="space-y-2" aria-live="polite">
                {#each sheet.answers as answer (answer.person.id)}
                  <p>
                    <span class="font-semibold">{answer.person.name}</span>{answer.insteadOf ? ` for ${answer.insteadOf.name}` : ''}
                    {SAID[answer.says]}{Object.keys(answer.texts).length ? ' with changes' : ''}
                    <When time={answer.at} />{answer.via && answer.via !== 'console'
                      ? `, by ${answer.via.replaceAll('-', ' ')}`
                      : ''}{answer.reason ? `: ${answer.reason}` : '.'}
                  </p>
                {:else}
                  {#if !picture}<p class="text-faint">
                      {summary.state === 'open' ? 'This asks others, not you.' : `This is ${summary.state.replaceAll('-', ' ')}.`}
                    </p>{/if}
                {/each}
                {#if sheet.maySendLate}
                  <div class="sheet space-y-2 border-l-4 border-l-signal p-3">
                    <p>Nobody answered in time, so nothing was sent. You can still send it, as a note of your own.</p>
                    <button class="button" disabled={decision.busy} onclick={() => decision.sendLate()}
                      >Send it{decision.edited ? ' with my changes' : ''} in my name</button
                    >
                  </div>
                {/if}
                {#if next}<a href="/approvals/{next}">Go to the next one</a> <kbd class="font-mono text-sm text-faint">n</kbd>{/if}
              </section>
            {/if}
          </div>
        </div>

        <div class="contents lg:block lg:space-y-5">
          <section class="sheet order-2 p-4" aria-label="The request">
            <h2 class="mb-1">
              {summary.requester.name} asks
              <span class={['font-normal', sheet.proof === 'claimed' ? 'text-signal' : 'text-faint']}
                >({sheet.proof === 'claimed' ? 'only claimed: nobody has proved who this is' : sheet.proof})</span
              >
            </h2>
            <p class="mb-1 font-semibold">{summary.caseSubject}</p>
            <p class="mb-2 max-h-40 overflow-y-auto whitespace-pre-wrap">{sheet.requestText}</p>
            {#if Object.keys(sheet.requestFields ?? {}).length}<ValueView value={sheet.requestFields} />{/if}
            {#if sheet.caseVisible}<p class="mt-2"><a href="/cases/{summary.caseId}">Open the case {summary.caseId}</a></p>{/if}
          </section>
          <div class="order-4"><Earlier earlier={sheet.earlier} name={summary.requester.name} caseVisible={sheet.caseVisible} /></div>
          {#if sheet.documents.length}
            <section class="sheet order-5 p-4" aria-label="Files">
              <h2 class="mb-1">Files</h2>
              <Files caseId={summary.caseId} documents={sheet.documents} />
            </section>
          {/if}
          <section class="sheet order-7 p-4" aria-label="What it rests on">
            <h2 class="mb-1">What it rests on</h2>
            {#each rests as known (known.name)}
              <h3 class="mt-2 flex flex-wrap items-baseline gap-x-3 font-semibold">
                {known.name}
                {#if known.written}<MachineMark />{:else}<span class="font-normal text-faint">from {known.origins.join(', ')}</span>{/if}
              </h3>
              <KnownValue value={known.value} found={known.found} caseId={summary.caseId} />
            {:else}<p class="text-faint">Nothing {judged.length ? 'else ' : ''}has been looked up yet.</p>{/each}
          </section>
          <div class="order-8"><SeenBy {id} {picture} /></div>
        </div>
      </div>
    {/if}
  {/snippet}
</Waiting>
