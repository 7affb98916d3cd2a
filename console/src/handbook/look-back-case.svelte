<script lang="ts">
  import { api } from '../api/client';
  import Lanes from '../cases/lanes.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import Waiting from '../parts/waiting.svelte';
  import { route } from '../router';
  import HandbookHead from './handbook-head.svelte';

  /** One past case: what was, beside what would be. */
  const id = $derived(String(route.params.id ?? ''));
  const loaded = new Loaded(() => api.lookBackCase(id));
  $effect(() => {
    void id;
    void loaded.refresh();
  });
</script>

<HandbookHead />
<Waiting {loaded}>
  {#snippet children(beside)}
    <p class="text-faint"><a href="/handbook/look-back">Look back</a> / <a href="/cases/{beside.caseId}">{beside.caseId}</a></p>
    <h2 class="mb-4 text-xl">{beside.step ? `They part at ‘${beside.step}’` : 'It is decided the same'}</h2>
    <div class="grid grid-cols-[minmax(0,1fr)] gap-6 xl:grid-cols-2">
      <div>
        <h3 class="mb-2 font-semibold">What was</h3>
        <Lanes caseId={beside.caseId} {...beside.before} runs={[]} onChanged={() => void loaded.refresh()} />
      </div>
      <div>
        <h3 class="mb-2 font-semibold">What would be</h3>
        <Lanes caseId={beside.caseId} {...beside.after} runs={[]} onChanged={() => void loaded.refresh()} />
      </div>
    </div>
  {/snippet}
</Waiting>
