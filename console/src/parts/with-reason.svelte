<script lang="ts">
  import { ApiError } from '../api/client';
  import FailureNote from './failure-note.svelte';

  /** Something that is done only with words that say why. */
  let {
    label,
    ask,
    does,
    work,
    onDone,
  }: { label: string; ask: string; does: string; work: (why: string) => Promise<unknown>; onDone: () => void } = $props();

  let asking = $state(false);
  let why = $state('');
  let failure = $state<ApiError>();

  async function attempt(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    try {
      await work(why);
      asking = false;
      why = '';
      failure = undefined;
      onDone();
    } catch (error) {
      failure = error as ApiError;
    }
  }
</script>

{#if asking}
  <form class="mt-1 flex flex-wrap gap-2" onsubmit={attempt}>
    <p class="basis-full text-sm font-semibold">{label.replace('…', '')}</p>
    <input class="field min-w-40 grow basis-0" aria-label={ask} placeholder={ask} {@attach (input) => input.focus()} bind:value={why} />
    <button class="button" disabled={!why.trim()}>{does}</button>
    <button type="button" class="button" onclick={() => (asking = false)}>Back</button>
  </form>
  {#if failure}<FailureNote {failure} />{/if}
{:else}
  <button type="button" class="cursor-pointer text-sm text-accent underline" onclick={() => (asking = true)}>{label}</button>
{/if}
