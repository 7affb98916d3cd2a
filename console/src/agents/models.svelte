<script lang="ts">
  import { api, ApiError, type ModelSaid } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import MachineMark from '../parts/machine-mark.svelte';
  import Waiting from '../parts/waiting.svelte';
  import { session } from '../shell/session.svelte';

  /** The models that agents work with; whether one answers is told by trying it. */
  const models = new Loaded(api.models);
  $effect(() => models.follow());

  let asked = $state('');
  let said = $state<ModelSaid>();
  let failure = $state<ApiError>();

  async function ask(name: string): Promise<void> {
    asked = name;
    said = failure = undefined;
    try {
      said = await api.tryModel(name);
    } catch (error) {
      failure = error as ApiError;
    }
  }
</script>

<h2 class="mt-8 mb-2">Models</h2>
<Waiting loaded={models}>
  {#snippet children(all)}
    {#if all.length}
      <ul class="sheet divide-y divide-line">
        {#each all as model (model.name)}
          <li class="px-4 py-2.5">
            <div class="flex flex-wrap items-baseline gap-x-4 gap-y-1">
              <span class="font-semibold">{model.name}</span>
              <span>{model.known} <span class="text-sm text-faint">by the connection {model.connection}</span></span>
              {#if !model.ready}<span class="text-sm text-signal">that connection isn’t set up</span>{/if}
              <span class="text-sm text-faint">
                {model.window.toLocaleString('en-GB')} tokens at once · can {model.can.join(', ') || 'only write'}
                {#if model.price}· {model.price.asked} asked, {model.price.answered} answered a million{/if}
                {#if model.otherwise}· otherwise {model.otherwise}{/if}
              </span>
              {#if session.is('engineer')}
                <button class="ml-auto cursor-pointer text-sm text-accent underline" onclick={() => ask(model.name)}>ask it a word</button>
              {/if}
            </div>
            <p class="text-sm text-faint">{model.agents.length ? model.agents.join(', ') : 'No agent works with it.'}</p>
            {#if asked === model.name}
              <div role="status" class="mt-1">
                {#if failure}<FailureNote {failure} />
                {:else if !said}<p class="text-sm text-faint">asking…</p>
                {:else if said.problem}<p class="border-l-4 border-l-signal pl-3">{said.problem}: {said.detail}</p>
                {:else}
                  <p>{said.text} <MachineMark by={said.answered} /></p>
                  <p class="text-sm text-faint">{said.tokens} tokens, {said.millis} ms</p>
                {/if}
              </div>
            {/if}
          </li>
        {/each}
      </ul>
    {:else}<p class="sheet p-4 text-faint">The handbook names no model yet, so no step can ask one.</p>{/if}
  {/snippet}
</Waiting>
