<script lang="ts">
  import { api, type Finding, ApiError } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import FailureNote from '../parts/failure-note.svelte';
  import Waiting from '../parts/waiting.svelte';
  import ComparisonView from './comparison-view.svelte';
  import { inAddress } from './draft.svelte';
  import HandbookHead from './handbook-head.svelte';
  import Wishes from './wishes.svelte';

  const errors = (findings: Finding[]) => findings.filter((finding) => finding.severity === 'error');

  const loaded = new Loaded(async () => {
    const [draft, comparison, assessment] = await Promise.all([api.draft(), api.draftChanges(), api.assess('')]);
    const sound = errors(assessment.findings).length === 0;
    const [rehearsals, look] = await Promise.all([sound ? api.rehearsals() : undefined, api.lookBack().catch(() => undefined)]);
    return { draft, comparison, assessment, rehearsals, look: look?.by === 'your draft' ? look : undefined };
  });
  let note = $state('');
  let despite = $state('');
  let done = $state('');
  let failure = $state<ApiError>();
  let busy = $state(false);

  $effect(() => void loaded.refresh());

  async function publish(): Promise<void> {
    busy = true;
    failure = undefined;
    try {
      const published = await api.publishDraft(note, despite);
      done = published.isNew
        ? `Published as edition ${published.edition.number}.`
        : `Edition ${published.edition.number} already has this content.`;
      note = despite = '';
      await loaded.refresh();
    } catch (error) {
      failure = error as ApiError;
    } finally {
      busy = false;
    }
  }
</script>

<HandbookHead />
{#if done}<p role="status" class="sheet mb-4 border-l-4 border-l-accent p-3">
    {done} New runs start on it; runs under way stay on theirs.
  </p>{/if}
{#if failure}<div class="mb-4"><FailureNote {failure} /></div>{/if}
<Waiting {loaded}>
  {#snippet children({ draft, comparison, assessment, rehearsals, look })}
    {@const conflicts = draft.files.filter((file) => file.conflict)}
    {@const faults = errors(assessment.findings)}
    {@const notSo = rehearsals?.played.filter((one) => !one.passed) ?? []}
    <div class="grid grid-cols-[minmax(0,1fr)] gap-6 lg:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
      <div><ComparisonView {comparison} /></div>
      <form class="sheet h-fit space-y-3 p-4" onsubmit={(event) => (event.preventDefault(), void publish())}>
        <h2>Publish as edition {draft.edition + 1}</h2>
        {#if conflicts.length}
          <p>
            Published meanwhile with another text: {#each conflicts as file (file.path)}<a href="/handbook/{inAddress(file.path)}"
                >{file.path}</a
              >
            {/each}. Settle these first.
          </p>
        {/if}
        {#if faults.length}
          <p>{faults.length === 1 ? 'One error stands' : `${faults.length} errors stand`} in the way:</p>
          <ul class="space-y-1 text-sm">
            {#each faults.slice(0, 8) as fault (JSON.stringify(fault))}<li>
                <a href="/handbook/{inAddress(fault.place.file)}">{fault.place.file}:{fault.place.line}</a>
                {fault.what}
              </li>{/each}
          </ul>
        {/if}
        {#if rehearsals}
          <p class="text-sm">
            {rehearsals.played.length === 0 ? 'There are no rehearsals.' : ''}
            {#if rehearsals.played.length}<a href="/handbook/rehearsals">{rehearsals.played.length} rehearsals</a> played:
              {notSo.length ? `${notSo.length} not as rehearsed` : 'all as rehearsed'}.{/if}
          </p>
          {#if notSo.length}
            <ul class="space-y-2 text-sm">
              {#each notSo.slice(0, 8) as one (one.name)}<li>
                  <a href="/handbook/rehearsals/{one.name}">{one.title}</a>
                  <span class="block text-faint">{one.differences[0]}</span>
                </li>{/each}
            </ul>
            <div>
              <label class="label" for="despite">Why publish despite that? It is kept on the trail.</label>
              <textarea id="despite" class="field" rows="2" bind:value={despite}></textarea>
            </div>
          {/if}
        {/if}
        <p class="text-sm">
          {#if look}
            {@const other = look.made.filter((one) => one.made === 'other').length}
            Looked back at {look.done} cases by your draft: {look.same} the same, {other} another way,
            {look.done - look.same - other} not knowable. <a href="/handbook/look-back">See them, or look again</a>
          {:else}<a href="/handbook/look-back">Look back</a>: what would your draft have made of past cases?{/if}
        </p>
        <div>
          <label class="label" for="note">What changed, and why</label>
          <textarea id="note" class="field" rows="3" bind:value={note}></textarea>
        </div>
        <Wishes own={true} />
        <button
          class="button button-main"
          disabled={busy || draft.changes === 0 || conflicts.length > 0 || faults.length > 0 || (notSo.length > 0 && !despite.trim())}
          >Publish</button
        >
        {#if draft.changes === 0}<p class="text-sm text-faint">You have changed nothing.</p>{/if}
      </form>
    </div>
  {/snippet}
</Waiting>
