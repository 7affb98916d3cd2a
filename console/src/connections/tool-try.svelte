<script lang="ts">
  import { api, type ToolView, type Tried, ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import ValueView from '../parts/value-view.svelte';

  let { tool }: { tool: ToolView } = $props();

  const mayTry = $derived(tool.effect === 'read' && !tool.personal);
  const inputs = $derived(
    Object.entries((tool.inputs as { properties?: Record<string, { description?: string; type?: string }> }).properties ?? {}),
  );
  // svelte-ignore state_referenced_locally
  let values = $state<Record<string, string>>(
    Object.fromEntries(Object.entries((tool.examples[0] as Record<string, unknown>) ?? {}).map(([name, value]) => [name, String(value)])),
  );
  let tried = $state<Tried>();
  let failure = $state<ApiError>();
  let busy = $state(false);

  function args(): Record<string, unknown> {
    return Object.fromEntries(
      inputs
        .filter(([name]) => (values[name] ?? '') !== '')
        .map(([name, schema]) => [
          name,
          schema.type === 'number' || schema.type === 'integer'
            ? Number(values[name])
            : schema.type === 'boolean'
              ? values[name] === 'true'
              : values[name],
        ]),
    );
  }

  async function call(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    busy = true;
    tried = failure = undefined;
    try {
      tried = await api.tryTool(tool.name, args());
    } catch (error) {
      failure = error as ApiError;
    } finally {
      busy = false;
    }
  }
</script>

<form class="sheet space-y-3 p-4" onsubmit={call}>
  <h2>{tool.name} <span class="text-sm font-normal text-faint">{tool.effect}{tool.personal ? ', personal' : ''}</span></h2>
  <p>{tool.description}</p>
  {#each inputs as [name, schema] (name)}
    <div>
      <label class="label" for="input-{name}">{name}</label>
      <input id="input-{name}" class="field" bind:value={values[name]} disabled={!mayTry} />
      {#if schema.description}<p class="text-sm text-faint">{schema.description}</p>{/if}
    </div>
  {/each}
  {#if mayTry}
    <button class="button" disabled={busy}>Call it</button>
  {:else}
    <p class="text-sm text-faint">
      Only tools that change nothing and read nothing personal are tried out by hand; this one is called by runs, which are judged.
    </p>
  {/if}
  {#if failure}<FailureNote {failure} />{/if}
  {#if tried}
    <div role="status">
      {#if tried.problem}<p class="font-semibold">{tried.problem}: {tried.detail}</p>{:else}<ValueView value={tried.answer} />{/if}
      {#if tried.transcript}<pre
          class="mt-2 text-sm whitespace-pre-wrap wrap-anywhere"
          aria-label="transcript">{tried.transcript}</pre>{/if}
    </div>
  {/if}
</form>
