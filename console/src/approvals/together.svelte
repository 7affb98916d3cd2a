<script lang="ts">
  import { api, type ApprovalSheet, type ApiError } from '../api/client';
  import CallInputs from '../parts/call-inputs.svelte';
  import FailureNote from '../parts/failure-note.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import StateWord from '../parts/state-word.svelte';
  import Waiting from '../parts/waiting.svelte';

  /** Several approvals about calls of one tool, each shown as a whole, with one answer for those that are marked. */
  let { ids, onDone }: { ids: string[]; onDone: () => void } = $props();

  const loaded = new Loaded(() => Promise.all(ids.map((id) => api.approval(id))));
  $effect(() => void loaded.refresh());

  let left = $state<Record<string, boolean>>({});
  let declining = $state(false);
  /** True once the person said yes, and is asked once more. */
  let confirming = $state(false);
  let reason = $state('');
  let busy = $state(false);
  let failure = $state<ApiError>();
  let came = $state<{ id: string; counts: boolean; message: string; state: string }[]>([]);

  const marked = (sheets: ApprovalSheet[]): ApprovalSheet[] => sheets.filter((sheet) => !left[sheet.summary.id]);

  async function answer(sheets: ApprovalSheet[], decision: 'approve' | 'decline'): Promise<void> {
    busy = true;
    failure = undefined;
    try {
      const approvals = marked(sheets).map((sheet) => ({ id: sheet.summary.id, digest: sheet.digest }));
      came = await api.answerTogether({ decision, reason, approvals });
    } catch (error) {
      failure = error as ApiError;
    } finally {
      busy = false;
    }
  }
</script>

<Waiting {loaded}>
  {#snippet children(sheets)}
    {@const chosen = marked(sheets)}
    <ol class="space-y-4">
      {#each sheets as sheet (sheet.summary.id)}
        {@const result = came.find((one) => one.id === sheet.summary.id)}
        <li class="sheet p-4">
          <label class="flex items-baseline gap-2 font-semibold"
            ><input
              type="checkbox"
              disabled={came.length > 0}
              checked={!left[sheet.summary.id]}
              onchange={(event) => (left[sheet.summary.id] = !event.currentTarget.checked)}
            />
            <span class="wrap-anywhere">{sheet.summary.headline}</span>
          </label>
          <p class="mb-2 text-sm">
            {sheet.summary.requester.name}
            <span class={sheet.proof === 'claimed' ? 'text-signal' : 'text-faint'}>({sheet.proof})</span>, {sheet.summary.caseId}:
            <span class="wrap-anywhere">{sheet.summary.caseSubject}</span>
            <a class="ml-2" href="/approvals/{sheet.summary.id}">all of it</a>
          </p>
          {#if sheet.sheet.call}<CallInputs
              call={sheet.sheet.call}
              caseId={sheet.summary.caseId}
              currency={sheet.sheet.currency ?? ''}
            />{/if}
          <p class="mt-2 text-sm text-faint">Asked because {sheet.sheet.why}.</p>
          {#if result}<p role="status" class="mt-2 border-l-4 border-l-accent pl-3">
              <StateWord state={result.state} />
              {result.message}
            </p>{/if}
        </li>
      {/each}
    </ol>
    {#if failure}<div class="mt-3"><FailureNote {failure} /></div>{/if}
    <form class="mt-4 space-y-3" onsubmit={(event) => event.preventDefault()}>
      {#if came.length}
        <button type="button" class="button" onclick={onDone}>Back to all</button>
      {:else if declining}
        <label class="label" for="why-not">Why not? The answers to the requesters are written from this.</label>
        <textarea id="why-not" class="field" rows="2" bind:value={reason}></textarea>
        <button class="button" disabled={busy || !reason.trim() || chosen.length < 2} onclick={() => void answer(sheets, 'decline')}
          >Decline these {chosen.length}</button
        >
        <button type="button" class="button" onclick={() => (declining = false)}>Back</button>
      {:else if confirming}
        <div class="sheet border-l-4 border-l-signal p-3" role="alertdialog" aria-labelledby="all-of-these">
          <p id="all-of-these" class="mb-1 font-semibold">These are then done, and count as yours:</p>
          <ul class="mb-3 list-disc pl-5">
            {#each chosen as sheet (sheet.summary.id)}<li class="wrap-anywhere">{sheet.summary.headline}</li>{/each}
          </ul>
          <button class="button button-main" disabled={busy} onclick={() => void answer(sheets, 'approve')}
            >Yes, do these {chosen.length}</button
          >
          <button type="button" class="button" onclick={() => (confirming = false)}>Back</button>
        </div>
      {:else}
        <p>{chosen.length} of {sheets.length} are marked. Each is answered on its own, as it stands here.</p>
        <p class="flex flex-wrap gap-3">
          <button class="button button-main" disabled={busy || chosen.length < 2} onclick={() => (confirming = true)}
            >Approve these {chosen.length}…</button
          >
          <button class="button" disabled={busy || chosen.length < 2} onclick={() => (declining = true)}>Decline them…</button>
          <button type="button" class="button" onclick={onDone}>Back</button>
        </p>
      {/if}
    </form>
  {/snippet}
</Waiting>
