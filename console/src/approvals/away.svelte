<script lang="ts">
  import { api, ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import When from '../parts/when.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import { session } from '../shell/session.svelte';

  /** Who answers while the person is away. */
  const me = $derived(session.value?.id ?? '');
  const shown = new Loaded(() => api.deputy(me));
  let deputy = $state('');
  let since = $state('');
  let until = $state('');
  let failure = $state<ApiError>();
  $effect(() => shown.follow());

  /** A day begins where the person is. */
  const begin = (day: string): string | undefined => (day ? new Date(`${day}T00:00`).toISOString() : undefined);

  async function act(how: () => Promise<unknown>): Promise<void> {
    failure = undefined;
    try {
      await how();
      await shown.refresh();
    } catch (error) {
      failure = error as ApiError;
    }
  }
  const name = (event: SubmitEvent) => {
    event.preventDefault();
    void act(() => api.setDeputy(me, { deputy, since: begin(since), until: begin(until)! }));
  };
</script>

{#if shown.value}
  {@const now = shown.value}
  {#if now.standsInFor.length}<p class="mb-3 text-sm">You answer for {now.standsInFor.map((one) => one.name).join(' and ')}, too.</p>{/if}
  <details class="text-sm">
    <summary class="cursor-pointer text-faint">
      {#if now.deputy}{now.deputy.name} {now.now ? 'answers' : 'will answer'} for you{:else}Away for a while?{/if}
    </summary>
    <div class="sheet mt-2 space-y-3 p-4">
      {#if now.deputy && now.since && now.until}
        <p>{now.deputy.name} answers what asks you by name, from <When time={now.since} /> to <When time={now.until} />.</p>
        <button class="button" onclick={() => void act(() => api.endDeputy(me))}>I answer myself again</button>
      {:else if now.couldBe.length}
        <form class="grid gap-3 sm:grid-cols-4 sm:items-end" onsubmit={name}>
          <label class="block text-faint sm:col-span-2"
            >Who answers for you
            <select class="field mt-0.5 text-ink" bind:value={deputy} required>
              <option value="">choose…</option>
              {#each now.couldBe as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
            </select>
          </label>
          <label class="block text-faint">From <input class="field mt-0.5 text-ink" type="date" bind:value={since} /></label>
          <label class="block text-faint">Back on <input class="field mt-0.5 text-ink" type="date" bind:value={until} required /></label>
          <button class="button sm:col-span-2">Let them answer</button>
        </form>
        <p class="text-faint">What asks a group is answered by its other members; this is about what asks you by name.</p>
      {:else}<p class="text-faint">Nobody else approves at all of your desks. An admin can change that.</p>{/if}
      {#if failure}<FailureNote {failure} />{/if}
    </div>
  </details>
{/if}
