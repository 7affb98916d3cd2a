<script lang="ts">
  import { Tabs } from 'bits-ui';
  import { onMount, untrack } from 'svelte';
  import type { Finding } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import { go, route } from '../router';
  import StopAtOnce from '../parts/stop-at-once.svelte';
  import { session } from '../shell/session.svelte';
  import ConflictNote from './conflict-note.svelte';
  import { fromAddress, HandbookDraft, inAddress } from './draft.svelte';
  import FileTree from './file-tree.svelte';
  import FindingsPane from './findings-pane.svelte';
  import FormPane from './forms/form-pane.svelte';
  import { formFor } from './forms/yaml-file';
  import HandbookHead from './handbook-head.svelte';
  import { INSTRUCTIONS, withStep } from './instructions';
  import NewFile from './new-file.svelte';
  import PagePane from './page-pane.svelte';
  import TextPane from './text-pane.svelte';

  const draft = new HandbookDraft();
  const FIRST = 'runbooks/';
  let line = $state(1);
  let tab = $state('findings');
  let asForm = $state(false);
  let text = $state<ReturnType<typeof TextPane>>();

  /** Puts a step of a model into the page, to be made one's own. */
  function begin(event: Event & { currentTarget: HTMLSelectElement }): void {
    const step = INSTRUCTIONS[event.currentTarget.value];
    event.currentTarget.value = '';
    if (step) draft.replace(withStep(draft.text, step));
  }

  const path = $derived(fromAddress((route.params as { file?: string }).file ?? ''));
  const form = $derived(formFor(draft.path));
  const page = $derived(draft.assessment?.page);

  onMount(async () => {
    await draft.load();
    if (!path && draft.draft) {
      const first = draft.draft.files.find((file) => file.path.startsWith(FIRST)) ?? draft.draft.files[0];
      go(first ? '/handbook/' + inAddress(first.path) : '/handbook/start');
    }
  });
  $effect(() => {
    const next = path;
    // opening reads what typing changes; only another path may open a file anew
    untrack(() => next && void draft.open(next));
  });
  $effect(() => () => void draft.flush());

  function onGo(finding: Finding): void {
    if (finding.place.file === draft.path) {
      asForm = false;
      setTimeout(() => text?.goTo(finding.place.line));
    } else {
      go('/handbook/' + inAddress(finding.place.file));
    }
  }

  async function takeOut(): Promise<void> {
    await draft.remove(draft.path);
  }
</script>

{#if !session.is('engineer')}
  <p class="text-faint">The handbook is written by engineers. Ask one to show you a page.</p>
{:else}
  <HandbookHead {draft} />
  {#if draft.failure}<div class="mb-3"><FailureNote failure={draft.failure} /></div>{/if}
  <div class="grid gap-4 lg:grid-cols-[13rem_minmax(0,1fr)_minmax(22rem,38rem)]">
    <div class="max-h-[calc(100vh-9rem)] overflow-auto">
      {#if draft.draft}
        <FileTree draft={draft.draft} findings={draft.assessment?.findings ?? []} current={draft.path} />
        <NewFile {draft} />
      {/if}
    </div>
    <section class="flex min-h-0 flex-col gap-2" aria-label="The file">
      {#if draft.path}
        <div class="flex flex-wrap items-baseline gap-3 text-sm">
          <h2 class="font-mono text-sm font-semibold">{draft.path}</h2>
          <span class="text-faint" role="status"
            >{draft.kept ? (draft.file?.change === 'same' ? 'as published' : 'kept, not published') : 'keeping…'}</span
          >
          {#if draft.file?.others.length}<span class="text-faint">{draft.file.others.join(' and ')} also has unpublished changes here</span
            >{/if}
          <span class="ml-auto flex gap-3">
            {#if draft.path.startsWith(FIRST)}
              <select
                class="cursor-pointer bg-transparent text-accent underline"
                aria-label="Begin a step of a model"
                value=""
                onchange={begin}
              >
                <option value="" disabled>begin a step…</option>
                {#each Object.keys(INSTRUCTIONS) as name (name)}<option>{name}</option>{/each}
              </select>
            {/if}
            {#if form}<button class="cursor-pointer text-accent underline" aria-pressed={asForm} onclick={() => (asForm = !asForm)}
                >{asForm ? 'as text' : 'as a form'}</button
              >{/if}
            {#if draft.file && draft.file.change !== 'same'}<button
                class="cursor-pointer text-accent underline"
                onclick={() => draft.giveUp(draft.path)}>give up my change</button
              >{/if}
            {#if draft.file?.change !== 'removed'}<button class="cursor-pointer text-accent underline" onclick={takeOut}
                >take the file out</button
              >{/if}
          </span>
        </div>
        {#if draft.file?.conflict}<ConflictNote {draft} />{/if}
        <div class="sheet h-[calc(100vh-11.5rem)] min-h-80 overflow-hidden">
          {#if form && asForm}
            <div class="h-full overflow-auto p-4"><FormPane {draft} {form} /></div>
          {:else}
            {#key draft.path}<TextPane {draft} bind:line bind:this={text} />{/key}
          {/if}
        </div>
      {/if}
    </section>
    <Tabs.Root bind:value={tab} class="min-h-0">
      <Tabs.List class="mb-2 flex gap-4 border-b border-line" aria-label="What the file says">
        {#each [['findings', `Findings${draft.assessment?.findings.length ? ' ' + draft.assessment.findings.length : ''}`], ...(page ? [['words', 'In words'], ['drawing', 'Drawn']] : [])] as [value, title] (value)}
          <Tabs.Trigger
            value={value!}
            class="cursor-pointer pb-1 text-faint data-[state=active]:border-b-2 data-[state=active]:border-accent data-[state=active]:font-semibold data-[state=active]:text-ink"
            >{title}</Tabs.Trigger
          >
        {/each}
      </Tabs.List>
      <div class="max-h-[calc(100vh-11.5rem)] overflow-auto">
        <Tabs.Content value="findings">
          <FindingsPane findings={draft.assessment?.findings ?? []} path={draft.path} {onGo} />
          {#if page && draft.published !== null}<div class="mt-4">
              <StopAtOnce what="page" name={draft.path.slice(FIRST.length, -'.md'.length)} />
            </div>{/if}
        </Tabs.Content>
        {#if page}
          <Tabs.Content value="words"><PagePane {page} as="words" {line} onGo={(at) => text?.goTo(at)} /></Tabs.Content>
          <Tabs.Content value="drawing"><PagePane {page} as="drawing" {line} onGo={(at) => text?.goTo(at)} /></Tabs.Content>
        {/if}
      </div>
    </Tabs.Root>
  </div>
{/if}
