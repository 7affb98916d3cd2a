<script lang="ts">
  import { api } from '../api/client';
  import Lanes from '../cases/lanes.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import Waiting from '../parts/waiting.svelte';
  import { route } from '../router';
  import HandbookHead from './handbook-head.svelte';
  import { inAddress } from './draft.svelte';

  /** One rehearsal of one's draft, played, with everything that happened in it. */
  const name = $derived(String(route.params.name ?? ''));
  const loaded = new Loaded(() => api.rehearsal(name));
  $effect(() => {
    void name;
    void loaded.refresh();
  });
</script>

<HandbookHead />
<Waiting {loaded}>
  {#snippet children({ came, lanes })}
    <p class="text-faint"><a href="/handbook/rehearsals">Rehearsals</a> / {came.name}</p>
    <h2 class="mb-1 text-xl wrap-anywhere">{came.title}</h2>
    <p class="mb-4 flex flex-wrap items-baseline gap-x-4 text-faint">
      <span class={came.passed ? '' : 'text-signal'}>{came.passed ? 'as rehearsed' : 'not as rehearsed'}</span>
      <span>a case of the kind {came.kind}, which ends {came.state.replaceAll('-', ' ')}</span>
      <a href="/handbook/{inAddress(`rehearsals/${came.name}.yaml`)}">the file</a>
    </p>
    {#if came.differences.length}
      <ul class="sheet mb-4 space-y-1 border-l-4 border-l-signal p-3">
        {#each came.differences as difference (difference)}<li class="wrap-anywhere">{difference}</li>{/each}
      </ul>
    {/if}
    <Lanes caseId="" {...lanes} runs={[]} onChanged={() => void loaded.refresh()} />
  {/snippet}
</Waiting>
