<script lang="ts">
  import { api, type AnswerReading, ApiError } from '../api/client';
  import type { Decision } from './decision.svelte';

  /** The box for an answer in one's own words; how that is read is shown before it counts. */
  let { decision }: { decision: Decision } = $props();

  let words = $state('');
  let read = $state<AnswerReading>();
  let failure = $state<ApiError>();

  async function show(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    failure = undefined;
    try {
      read = await api.readAnswer(decision.sheet?.summary.id ?? '', words);
    } catch (error) {
      failure = error as ApiError;
    }
  }

  async function count({ decision: says, reason }: AnswerReading): Promise<void> {
    read = undefined;
    words = '';
    await decision.inWords(says, reason);
  }
</script>

<form class="space-y-1" onsubmit={show}>
  <div class="flex flex-wrap gap-2">
    <input
      class="field min-w-0 grow basis-40"
      aria-label="Your answer in your own words"
      placeholder="or in your words: go ahead · no, …"
      maxlength="2000"
      bind:value={words}
      oninput={() => (read = undefined)}
    />
    <button class="button" disabled={!words.trim()}>Read it</button>
  </div>
  {#if read}
    <div role="status" class="flex flex-wrap items-baseline gap-x-3 gap-y-1 border-l-4 border-l-accent pl-3">
      <span><span class="font-semibold">{read.said}</span>: {read.words}</span>
      {#if read.decision !== 'nothing'}
        <button type="button" class="button" onclick={() => void count(read!)}>Yes, that is meant</button>
      {/if}
    </div>
  {/if}
  {#if failure}<span role="alert" class="block">{failure.message}</span>{/if}
</form>
