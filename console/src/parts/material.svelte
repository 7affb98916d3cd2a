<script lang="ts">
  import { api, Trouble } from '../api/client';
  import TroubleNote from './trouble-note.svelte';
  import ValueView from './value-view.svelte';

  /** A long text that the entry `seq` of the trail refers to, fetched when somebody wants to read it. */
  let { seq, what }: { seq: number; what: string } = $props();

  let text = $state<string>();
  let trouble = $state<Trouble>();
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
    trouble = undefined;
    try {
      text = (await api.material(seq)).text;
    } catch (error) {
      trouble = error as Trouble;
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
{#if trouble}<TroubleNote {trouble} />{/if}
