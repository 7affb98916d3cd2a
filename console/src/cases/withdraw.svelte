<script lang="ts">
  import type { ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';

  /** Taking back what one has asked, in two movements. */
  let { work, onDone }: { work: () => Promise<unknown>; onDone: () => void } = $props();

  let sure = $state(false);
  let failure = $state<ApiError>();

  async function withdraw(): Promise<void> {
    try {
      await work();
      failure = undefined;
      onDone();
    } catch (error) {
      failure = error as ApiError;
    }
    sure = false;
  }
</script>

{#if failure}<FailureNote {failure} />{/if}
{#if sure}
  <p class="mb-2">Nothing more is done for it then, and it can’t be taken up again.</p>
  <p class="flex flex-wrap gap-3">
    <button type="button" class="button" onclick={withdraw}>Take it back</button>
    <button type="button" class="button" onclick={() => (sure = false)}>Keep it</button>
  </p>
{:else}
  <button type="button" class="cursor-pointer text-sm text-accent underline" onclick={() => (sure = true)}
    >I don’t need this any more</button
  >
{/if}
