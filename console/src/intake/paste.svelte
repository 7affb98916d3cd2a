<script lang="ts">
  import { api, ApiError, type Taken } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import ValueView from '../parts/value-view.svelte';

  /** Says of a message that somebody pastes what would be read, what left out, and what would become of it. */
  let { intake, onSent }: { intake: string; onSent: () => void } = $props();

  type Would = {
    kind: string;
    requester: string;
    subject: string;
    text: string;
    joins?: string;
    fields: Record<string, unknown>;
    read: unknown;
    ignored: string[];
  };

  let open = $state(false);
  let text = $state('');
  let tried = $state<Taken>();
  let failure = $state<ApiError>();
  const would = $derived(tried?.would as unknown as Would | undefined);

  function parsed(): unknown {
    try {
      return JSON.parse(text);
    } catch {
      throw new ApiError(0, 'This isn’t JSON', 'Paste the body of one message, as the system sends it.');
    }
  }

  async function send(dry: boolean): Promise<void> {
    failure = undefined;
    tried = undefined;
    try {
      tried = await api.sendMessage(intake, parsed(), dry);
      if (!dry) onSent();
    } catch (error) {
      failure = error as ApiError;
    }
  }
</script>

{#if !open}
  <button class="mt-3 block cursor-pointer text-sm text-accent underline" onclick={() => (open = true)}
    >Paste a message to see what becomes of it</button
  >
{:else}
  <form
    class="mt-3"
    onsubmit={(event) => {
      event.preventDefault();
      void send(true);
    }}
  >
    <label class="label" for="paste-{intake}">A message, as the system sends it</label>
    <textarea
      id="paste-{intake}"
      class="field h-32 w-full font-mono text-sm"
      spellcheck="false"
      bind:value={text}
      oninput={() => {
        tried = undefined;
        failure = undefined;
      }}></textarea>
    <div class="mt-2 flex gap-2">
      <button class="button button-main" disabled={!text.trim()}>See what becomes of it</button>
      <button type="button" class="button" onclick={() => (open = false)}>Close</button>
    </div>
  </form>
  <div aria-live="polite">
    {#if failure}<FailureNote {failure} />{/if}
    {#if would}
      <div class="mt-3 grid gap-3 sm:grid-cols-2">
        <div>
          <h4 class="font-semibold">
            {#if would.joins}It would come to <a href="/cases/{would.joins}">{would.joins}</a>{:else}It would open a case{/if}
          </h4>
          <p class="break-words">{would.subject}</p>
          <ValueView value={{ kind: would.kind, for: would.requester, ...would.fields }} />
        </div>
        <div>
          <h4 class="font-semibold">What is read</h4>
          <ValueView value={would.read} />
          <h4 class="mt-2 font-semibold">What is left out</h4>
          <p class="break-words">{would.ignored.length ? would.ignored.join(', ') : 'nothing'}</p>
        </div>
      </div>
      <button class="button mt-3" onclick={() => send(false)}>Take it in</button>
    {:else if tried}
      <p class="mt-2">
        {#if tried.why}Left out: {tried.why}.
        {:else if tried.id}Taken in: <a href="/cases/{tried.id}">{tried.id}</a>.{/if}
      </p>
    {/if}
  </div>
{/if}
