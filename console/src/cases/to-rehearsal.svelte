<script lang="ts">
  import { api, ApiError } from '../api/client';
  import { inAddress } from '../handbook/draft.svelte';
  import FailureNote from '../parts/failure-note.svelte';
  import { go } from '../router';

  /** Makes a rehearsal of a case and puts it into one's draft, where one goes on writing it. */
  let { caseId }: { caseId: string } = $props();

  let failure = $state<ApiError>();
  let busy = $state(false);

  async function make(): Promise<void> {
    busy = true;
    failure = undefined;
    try {
      const { path, text } = await api.rehearsalOf(caseId);
      await api.putDraft(path, text);
      go(`/handbook/${inAddress(path)}`);
    } catch (error) {
      failure = error as ApiError;
    } finally {
      busy = false;
    }
  }
</script>

<p class="mt-4 text-sm text-faint">
  <button class="cursor-pointer text-accent underline" disabled={busy} onclick={() => void make()}>Make a rehearsal of it</button>, in your
  draft: with made-up values, and without texts and documents.
</p>
{#if failure}<FailureNote {failure} />{/if}
