<script lang="ts">
  import { api, type ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import MachineMark from '../parts/machine-mark.svelte';
  import Waiting from '../parts/waiting.svelte';
  import When from '../parts/when.svelte';
  import { secret } from './secret';
  import Paper from './paper.svelte';

  /** What an approval asks whoever has the link of a mail about it. Looking does nothing; the buttons do. */
  const link = secret();
  const asked = new Loaded(() => api.askedByMail(link));
  $effect(() => void asked.refresh());

  let wording = $state<'decline' | 'feedback'>();
  let reason = $state('');
  let failure = $state<ApiError>();
  let busy = $state(false);

  const BECAME: Record<string, string> = {
    answered: 'This mail has been answered; it is good for one answer.',
    changed: 'What is asked has changed since this mail went out.',
    expired: 'Nobody answered in time.',
    withdrawn: 'This isn’t asked any more.',
  };

  async function answer(decision: 'approve' | 'decline' | 'feedback'): Promise<void> {
    if (decision !== 'approve' && (wording !== decision || !reason.trim())) {
      wording = decision;
      return;
    }
    busy = true;
    failure = undefined;
    try {
      asked.value = await api.answerByLink(link, { decision, reason });
    } catch (error) {
      failure = error as ApiError;
    } finally {
      busy = false;
    }
  }
</script>

<Waiting loaded={asked}>
  {#snippet children(shown)}
    {#if shown.state === 'open'}
      <Paper house={shown.house} title={(shown.drafts.length ? shown.question : shown.headline) ?? 'Your answer is needed'}>
        <p class="mb-4 text-faint">
          {shown.name} is asked{#if shown.due}; it lapses <When time={shown.due} />{/if}
        </p>
        {#if shown.requester}
          <section class="sheet mb-4 p-4">
            <h2 class="mb-1">
              {shown.requester} asks
              <span class={['font-normal', shown.proof === 'claimed' ? 'text-signal' : 'text-faint']}
                >({shown.proof === 'claimed' ? 'only claimed: nobody has proved who this is' : shown.proof})</span
              >
            </h2>
            <p class="font-semibold wrap-anywhere">{shown.subject}</p>
            <p class="max-h-48 overflow-y-auto whitespace-pre-wrap wrap-anywhere">{shown.text}</p>
          </section>
        {/if}
        {#each shown.drafts as draft, index (index)}
          <section class="sheet mb-4 space-y-2 p-4">
            <h2 class="flex flex-wrap items-baseline gap-x-3">What would be sent <MachineMark /></h2>
            <p class="whitespace-pre-wrap wrap-anywhere">{draft}</p>
            {#if shown.mayApprove}<p class="text-sm text-faint">
                To change its words, <a href={shown.sheet}>sign in</a>; here it is approved as it stands.
              </p>{/if}
          </section>
        {/each}
        {#if shown.why}<p class="mb-4 text-sm text-faint">Asked because {shown.why}.</p>{/if}
        {#if failure}<div class="mb-3"><FailureNote {failure} /></div>{/if}
        <form class="space-y-3" onsubmit={(event) => event.preventDefault()}>
          {#if wording}
            <label class="label" for="reason"
              >{wording === 'decline' ? 'Why not? The answer to the requester is written from this.' : 'What should be different?'}</label
            >
            <textarea id="reason" class="field" rows="3" bind:value={reason}></textarea>
            <p class="flex flex-wrap gap-3">
              <button class="button button-main" disabled={busy || !reason.trim()} onclick={() => void answer(wording!)}
                >{wording === 'decline' ? 'Decline' : 'Send it back'}</button
              >
              <button type="button" class="button" onclick={() => (wording = undefined)}>Back</button>
            </p>
          {:else}
            <p class="flex flex-wrap gap-3">
              {#if shown.mayApprove}<button class="button button-main" disabled={busy} onclick={() => void answer('approve')}
                  >Approve</button
                >{:else}<a class="button button-main no-underline" href={shown.sheet}>Sign in to approve</a>{/if}
              <button class="button" disabled={busy} onclick={() => void answer('decline')}>Decline…</button>
              {#if shown.maySendBack}<button class="button" disabled={busy} onclick={() => void answer('feedback')}>Send back…</button>{/if}
            </p>
          {/if}
        </form>
        {#if shown.mayApprove}<p class="mt-4 text-sm"><a href={shown.sheet}>See all that it rests on, after signing in</a></p>{/if}
      </Paper>
    {:else}
      <Paper house={shown.house} title="Nothing to answer here">
        <p class="sheet p-5" role="status">
          {BECAME[shown.state] ?? `This is ${shown.state.replaceAll('-', ' ')} already.`}
          <a href={shown.sheet}>See it after signing in</a>
        </p>
      </Paper>
    {/if}
  {/snippet}
</Waiting>
