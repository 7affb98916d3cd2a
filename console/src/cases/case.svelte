<script lang="ts">
  import { asked } from '../approvals/asked.svelte';
  import { api, type CaseDetail } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import StateWord from '../parts/state-word.svelte';
  import ValueView from '../parts/value-view.svelte';
  import Waiting from '../parts/waiting.svelte';
  import TimeLeft from '../parts/time-left.svelte';
  import When from '../parts/when.svelte';
  import { route } from '../router';
  import { session } from '../shell/session.svelte';
  import Doubt from './doubt.svelte';
  import Held from './held.svelte';
  import Documents from './documents.svelte';
  import Mails from './mails.svelte';
  import Lanes from './lanes.svelte';
  import ToRehearsal from './to-rehearsal.svelte';
  import Note from './note.svelte';
  import NoteForm from './note-form.svelte';
  import Owner from './owner.svelte';
  import People from './people.svelte';
  import Resolve from './resolve.svelte';
  import Trouble from './trouble.svelte';
  import Withdraw from './withdraw.svelte';

  const id = $derived((route.params as { id: string }).id);
  const shown = new Loaded(async () => {
    const detail = await api.case(id);
    return { detail, lanes: detail.staff ? await api.lanes(id) : undefined };
  });
  /** How sure it is that they ask, in words. */
  function proof(detail: CaseDetail): string {
    const { summary, openedBy } = detail;
    if (summary.proof !== 'claimed') return summary.proof;
    return openedBy.id === summary.requester.id ? 'only claimed' : `claimed, opened by ${openedBy.name}`;
  }

  $effect(() => {
    void id;
    return shown.follow();
  });
</script>

<svelte:head
  >{#if shown.value}<title
      >{asked.titled(`${shown.value.detail.summary.id} ${shown.value.detail.summary.title ?? shown.value.detail.summary.subject}`)}</title
    >{/if}</svelte:head
>

<Waiting loaded={shown}>
  {#snippet children({ detail, lanes })}
    {@const summary = detail.summary}
    {@const mine = summary.requester.id === session.value?.id}
    <p class="text-faint"><a href="/cases">Cases</a> / {summary.id}</p>
    <h1 class="mb-1">{summary.title ?? summary.subject}</h1>
    {#if summary.title}<p class="text-faint">asked as ‘{summary.subject}’</p>{/if}
    <p class="mb-5 flex flex-wrap items-baseline gap-x-3 text-faint">
      <StateWord state={summary.state} />
      {#if detail.askedOf && !detail.staff}
        <span
          >for {detail.askedOf.whom.join(' and ')} to decide, since <When time={detail.askedOf.since} />{#if detail.askedOf.until}, until <When
              time={detail.askedOf.until}
            /> at the latest{/if}</span
        >
      {:else if summary.waitingFor}<span>for {summary.waitingFor}</span>{/if}
      <span>{summary.kindTitle}</span>
      <span>opened <When time={summary.created} /></span>
      {#if summary.late}<StateWord state="late" needsPerson />{/if}
      {#if summary.due && !['resolved', 'closed'].includes(summary.state)}<span>due <When time={summary.due} /></span>{/if}
      {#if detail.models && detail.models.tokens > 0}<span
          >{detail.models.tokens.toLocaleString('en-GB')} model tokens{#if typeof detail.models.cost === 'number'}, {detail.models.cost.toFixed(
              4,
            )}
            {detail.models.currency}{/if}</span
        >{/if}
      {#if summary.priority !== 'normal'}<span>{summary.priority} priority</span>{/if}
      {#each detail.labels as label (label)}<span class="rounded-sm border border-line px-1.5 text-sm">{label}</span>{/each}
    </p>

    <div class="grid grid-cols-[minmax(0,1fr)] gap-6 lg:grid-cols-[minmax(0,2fr)_minmax(0,3fr)]">
      <div class="space-y-5">
        <section class="sheet p-4" aria-label="The request">
          <h2 class="mb-2">
            {summary.requester.name} asks
            <span class="font-normal text-faint">({proof(detail)})</span>
          </h2>
          {#if detail.text}<p class="mb-3 whitespace-pre-wrap">{detail.text}</p>{/if}
          {#if Object.keys(detail.fields).length}<ValueView value={detail.fields} />{/if}
        </section>

        {#each detail.runs as run (run.id)}
          <Doubt {run} onChanged={() => shown.refresh()} />
          {#if run.held}{#key run.held.says}<Held {run} onChanged={() => shown.refresh()} />{/key}{/if}
          {#each run.troubles as trouble (trouble.id)}<Trouble {run} {trouble} onChanged={() => shown.refresh()} />{/each}
        {/each}

        {#each detail.approvals.filter((approval) => approval.state === 'open') as approval (approval.id)}
          <a href="/approvals/{approval.id}" class="sheet block border-l-4 border-l-signal bg-signal-soft p-3 text-ink no-underline">
            <span class="font-semibold">{approval.headline}</span>
            <span class="block text-sm"
              >{approval.asked ? 'This waits for you' : `This waits for ${approval.asks.join(' and ')}`}, since <When
                time={approval.opened}
              />{#if approval.due}, <TimeLeft due={approval.due} />{/if}.</span
            >
          </a>
        {/each}

        {#if detail.staff && summary.state === 'with-people'}
          {#each detail.approvals.filter((approval) => approval.state === 'expired' && approval.about === 'text') as approval (approval.id)}
            <a href="/approvals/{approval.id}" class="sheet block border-l-4 border-l-signal p-3 text-ink no-underline">
              <span class="font-semibold">A text lapsed unsent: ‘{approval.question}’</span>
              <span class="block text-sm">Nobody answered in time. {approval.asks.join(' and ')} can still send it.</span>
            </a>
          {/each}
        {/if}

        {#if detail.staff && detail.mayAdd && (summary.state === 'with-people' || summary.state === 'open')}<Resolve
            caseId={summary.id}
            onResolved={() => shown.refresh()}
          />{/if}

        {#if mine && !['resolved', 'closed'].includes(summary.state)}<Withdraw
            work={() => api.withdraw(summary.id)}
            onDone={() => shown.refresh()}
          />{/if}

        <Mails caseId={summary.id} />
        {#if detail.staff && detail.mayAdd}<Owner {summary} onChanged={() => shown.refresh()} />{/if}
        {#if detail.staff && detail.mayAdd}<People caseId={summary.id} people={detail.people} onChanged={() => shown.refresh()} />{/if}
        <Documents
          caseId={summary.id}
          documents={detail.documents}
          missing={detail.missing}
          mayAdd={detail.mayAdd}
          onAttached={() => shown.refresh()}
        />
        {#if detail.relations.length}
          <section aria-label="Belongs together">
            <h2 class="mb-2">Belongs together</h2>
            <ul class="sheet">
              {#each detail.relations as relation (relation.what + relation.other)}
                <li class="flex flex-wrap items-baseline gap-x-3 border-b border-line px-3 py-2 last:border-0">
                  <span class="text-faint">{relation.what.replaceAll('-', ' ')}</span>
                  {#if relation.subject}<a href="/cases/{relation.other}" class="min-w-0 break-words">{relation.other} {relation.subject}</a
                    >
                  {:else}<span class="min-w-0 break-words">{relation.other}</span>{#if relation.desk}<span class="text-sm text-faint"
                        >of the desk ‘{relation.desk}’</span
                      >{/if}{/if}
                  {#if relation.state}<StateWord state={relation.state} />{/if}
                </li>
              {/each}
            </ul>
          </section>
        {/if}

        <section aria-label="Notes" class="space-y-3">
          <h2>Notes</h2>
          {#each detail.repeats as repeat (repeat.from.id)}
            <p class="text-sm text-faint">
              <span class="font-semibold text-ink">{repeat.times} more</span> of ‘{repeat.from.name}’ since <When time={repeat.since} />,
              the last
              <When time={repeat.latest} />
            </p>
          {/each}
          {#each detail.notes as note (note.id)}
            <Note caseId={summary.id} {note} />
          {:else}<p class="text-faint">Nobody has written anything yet.</p>{/each}
          {#if detail.mayAdd}<NoteForm caseId={summary.id} staff={detail.staff} onWritten={() => shown.refresh()} />{/if}
        </section>
      </div>
      {#if lanes}<div>
          <Lanes caseId={summary.id} {...lanes} runs={detail.runs} onChanged={() => shown.refresh()} />
          {#if session.is('engineer') && detail.runs.length}<ToRehearsal caseId={summary.id} />{/if}
        </div>{/if}
    </div>
  {/snippet}
</Waiting>
