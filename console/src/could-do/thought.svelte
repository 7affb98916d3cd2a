<script lang="ts">
  import { api, type Said, ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import { namedValues } from '../parts/named-values';

  let { agent, tool }: { agent: string; tool: string } = $props();

  let caseId = $state('');
  let inputs = $state('');
  let said = $state<Said>();
  let failure = $state<ApiError>();

  async function ask(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    said = failure = undefined;
    try {
      said = await api.tryMandate({ agent, tool, caseId, args: namedValues(inputs) });
    } catch (error) {
      failure = error as ApiError;
    }
  }
</script>

<form class="sheet space-y-3 p-4" onsubmit={ask}>
  <h2>What would the gate say?</h2>
  <p class="text-sm text-faint">Nothing is called, counted or kept.</p>
  <div>
    <label class="label" for="thought-case">For the case</label>
    <input id="thought-case" class="field" bind:value={caseId} placeholder="C-1001" required />
  </div>
  <div>
    <label class="label" for="thought-inputs">Inputs, one a line</label>
    <textarea id="thought-inputs" class="field font-mono text-sm" rows="3" bind:value={inputs} placeholder="account: E-217"></textarea>
  </div>
  <button class="button">Say</button>
  {#if failure}<FailureNote {failure} />{/if}
  {#if said}
    <p role="status">
      <span class={['font-semibold', said.verdict === 'allow' && 'text-accent', said.verdict === 'ask' && 'text-signal']}
        >{said.verdict}</span
      >
      {said.of.join(', ')}: {said.reason}
    </p>
  {/if}
</form>
