<script lang="ts">
  import { api } from '../api/client';
  import { fromAddress } from '../parts/in-address';
  import { listKeys } from '../parts/list-keys';
  import { Loaded } from '../parts/loaded.svelte';
  import Narrow from '../parts/narrow.svelte';
  import { Narrowing } from '../parts/narrowing.svelte';
  import { upTo } from '../parts/pages';
  import StateWord from '../parts/state-word.svelte';
  import Waiting from '../parts/waiting.svelte';
  import When from '../parts/when.svelte';
  import { route } from '../router';

  const STATUSES = ['ready', 'working', 'waiting', 'in-doubt', 'held', 'finished', 'failed', 'stopped'] as const;
  type Status = (typeof STATUSES)[number];

  let status = $state(fromAddress('status') as Status | '');
  let wanted = $state(50);
  const narrowing = new Narrowing();

  const runs = new Loaded(() =>
    upTo(wanted, (cursor) => api.runs({ limit: 50, ...narrowing.query, ...(status ? { status } : {}), ...cursor })),
  );
  $effect(() => {
    void wanted;
    if (route.pathname === '/runs') {
      narrowing.keep({ status });
    }
    return runs.follow();
  });
</script>

<div class="mb-4 flex flex-wrap items-center gap-4">
  <h1>Runs</h1>
  <select class="field ml-auto w-40" aria-label="Status" bind:value={status}>
    <option value="">every status</option>
    {#each STATUSES as one (one)}<option value={one}>{one.replace('-', ' ')}</option>{/each}
  </select>
</div>
<Narrow {narrowing} />

<Waiting loaded={runs}>
  {#snippet children(page)}
    {#if page.items.length}
      <div class="sheet overflow-x-auto" use:listKeys>
        <table class="w-full max-sm:block">
          <thead class="border-b border-line text-left text-sm text-faint max-sm:sr-only">
            <tr>
              <th class="px-3 py-2 font-normal">Case</th>
              <th class="px-3 py-2 font-normal">Page</th>
              <th class="px-3 py-2 font-normal">At</th>
              <th class="px-3 py-2 font-normal">Agent</th>
              <th class="px-3 py-2 font-normal">Status</th>
              <th class="px-3 py-2 text-right font-normal">Begun</th>
            </tr>
          </thead>
          <tbody class="max-sm:block">
            {#each page.items as run (run.id)}
              <tr
                class="border-b border-line last:border-0 hover:bg-accent-soft max-sm:flex max-sm:flex-wrap max-sm:gap-x-3 max-sm:px-3 max-sm:py-2"
              >
                <td class="px-3 py-2 whitespace-nowrap text-faint max-sm:p-0">{run.caseId}</td>
                <td class="px-3 py-2 max-sm:grow max-sm:p-0"><a data-item href="/cases/{run.caseId}">{run.pageTitle}</a></td>
                <td class="px-3 py-2 text-sm text-faint max-sm:basis-full max-sm:p-0">{run.stepTitle}</td>
                <td class="px-3 py-2 whitespace-nowrap max-sm:p-0">{run.agent}</td>
                <td class="px-3 py-2 max-sm:p-0">
                  <StateWord state={run.status} needsPerson={['in-doubt', 'held', 'failed'].includes(run.status)} />
                </td>
                <td class="px-3 py-2 text-right text-sm whitespace-nowrap text-faint max-sm:p-0"><When time={run.created} /></td>
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
      {#if page.more}<button class="button mt-3" onclick={() => (wanted += 100)}>More</button>{/if}
    {:else}
      <p class="sheet p-6 text-faint">No run of your desks fits.</p>
    {/if}
  {/snippet}
</Waiting>
