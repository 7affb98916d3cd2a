<script lang="ts">
  import { api, ApiError } from '../api/client';
  import FailureNote from './failure-note.svelte';
  import ValueView from './value-view.svelte';

  /** A long text that the entry `seq` of the trail refers to, fetched when somebody wants to read it. */
  let { seq, what }: { seq: number; what: string } = $props();

  let text = $state<string>();
  let failure = $state<ApiError>();
  let busy = $state(false);

  /** Prompts are kept as JSON; anything else is read as it is. */
  const parts = $derived.by(() => {
    try {
      return text?.startsWith('{') ? (JSON.parse(text) as unknown) : undefined;
    } catch {
      return undefined;
    }
  });

  async function read(): Promise<void> {
    busy = true;
    failure = undefined;
    try {
      text = (await api.material(seq)).text;
    } catch (error) {
      failure = error as ApiError;
    } finally {
      busy = false;
    }
  }
</script>

{#if text === undefined}
  <button class="button mt-2" disabled={busy} onclick={read}>{busy ? 'Fetching it…' : `Read the ${what}`}</button>
{:else if parts}
  <section class="sheet mt-2 p-3" aria-label={what}><ValueView value={parts} /></section>
{:else}
  <pre class="sheet mt-2 p-3 whitespace-pre-wrap wrap-anywhere" aria-label={what}>{text}</pre>
{/if}
{#if failure}<FailureNote {failure} />{/if}
