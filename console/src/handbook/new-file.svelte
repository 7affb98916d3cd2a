<script lang="ts">
  import { go } from '../router';
  import { type HandbookDraft, inAddress } from './draft.svelte';
  import { BEGINNINGS } from './beginnings';

  let { draft }: { draft: HandbookDraft } = $props();

  let open = $state(false);
  let sort = $state('page');
  let name = $state('');

  async function add(event: Event): Promise<void> {
    event.preventDefault();
    const { folder, ending, text } = BEGINNINGS[sort]!;
    const clean = name
      .trim()
      .toLowerCase()
      .replace(/[^a-z0-9-]+/g, '-')
      .replace(/^-+|-+$/g, '');
    const path = `${folder}/${clean}${ending}`;
    if (!clean || draft.draft?.files.some((file) => file.path === path && file.change !== 'removed')) {
      return;
    }
    await draft.add(path, text(clean, draft.assessment?.outline));
    open = false;
    name = '';
    go('/handbook/' + inAddress(path));
  }
</script>

<div class="mt-4 text-sm">
  {#if open}
    <form class="space-y-2" onsubmit={add}>
      <label class="label" for="sort">A new</label>
      <select id="sort" class="field" bind:value={sort}>
        {#each Object.keys(BEGINNINGS) as one (one)}<option value={one}>{one}</option>{/each}
      </select>
      <label class="label" for="name">called</label>
      <input id="name" class="field" bind:value={name} placeholder="lower-case-words" />
      <div class="flex gap-2">
        <button class="button" disabled={!name.trim()}>Add</button><button type="button" class="button" onclick={() => (open = false)}
          >Back</button
        >
      </div>
    </form>
  {:else}<button class="cursor-pointer text-accent underline" onclick={() => (open = true)}>New file</button>{/if}
</div>
