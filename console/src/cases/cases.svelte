<script lang="ts">
  import { api } from '../api/client';
  import { listKeys } from '../parts/list-keys';
  import { fromAddress } from '../parts/in-address';
  import { Loaded } from '../parts/loaded.svelte';
  import Narrow from '../parts/narrow.svelte';
  import { Narrowing } from '../parts/narrowing.svelte';
  import { upTo } from '../parts/pages';
  import StateWord from '../parts/state-word.svelte';
  import Waiting from '../parts/waiting.svelte';
  import When from '../parts/when.svelte';
  import { route } from '../router';
  import { session } from '../shell/session.svelte';
  import StateFilter from './state-filter.svelte';

  let words = $state(fromAddress('q'));
  let inState = $state(fromAddress('state'));
  let wanted = $state(50);
  const narrowing = new Narrowing();

  const cases = new Loaded(() =>
    upTo(wanted, (cursor) =>
      api.cases({
        limit: 50,
        ...narrowing.query,
        ...(words ? { q: words } : {}),
        ...(inState === 'late' ? { late: true } : inState ? { state: inState } : {}),
        ...cursor,
      }),
    ),
  );
  $effect(() => {
    void wanted;
    if (route.pathname === '/cases') {
      narrowing.keep({ q: words, state: inState });
    }
    return cases.follow();
  });
</script>

<div class="mb-4 flex flex-wrap items-center gap-4">
  <h1>{session.staff ? 'Cases' : 'My cases'}</h1>
  <div class="ml-auto flex flex-wrap gap-3">
    <input type="search" class="field w-64" placeholder="Words or a case id" aria-label="Search cases" bind:value={words} />
    <StateFilter bind:value={inState} />
  </div>
</div>

{#if session.staff}<Narrow {narrowing} />{/if}

<Waiting loaded={cases}>
  {#snippet children(page)}
    {#if page.items.length}
      <div class="sheet overflow-x-auto" use:listKeys>
        <table class="w-full max-sm:block">
          <thead class="border-b border-line text-left text-sm text-faint max-sm:sr-only">
            <tr>
              <th class="px-3 py-2 font-normal">Case</th>
              <th class="px-3 py-2 font-normal">Subject</th>
              <th class="px-3 py-2 font-normal">For</th>
              <th class="px-3 py-2 font-normal">State</th>
              <th class="px-3 py-2 text-right font-normal">Changed</th>
            </tr>
          </thead>
          <tbody class="max-sm:block">
            {#each page.items as item (item.id)}
              <tr
                class="border-b border-line last:border-0 hover:bg-accent-soft max-sm:flex max-sm:flex-wrap max-sm:gap-x-3 max-sm:px-3 max-sm:py-2"
              >
                <td class="px-3 py-2 whitespace-nowrap text-faint max-sm:p-0">{item.id}</td>
                <td class="max-w-96 px-3 py-2 max-sm:min-w-0 max-sm:grow max-sm:basis-3/5 max-sm:p-0"
                  ><a data-item href="/cases/{item.id}" class="block truncate">{item.title ?? item.subject}</a></td
                >
                <td class="px-3 py-2 whitespace-nowrap max-sm:order-last max-sm:basis-full max-sm:p-0 max-sm:text-sm max-sm:text-faint">
                  {item.requester.name}
                  {#if item.proof === 'claimed'}<span class="text-sm text-faint">(claimed)</span>{/if}
                </td>
                <td class="max-w-72 truncate px-3 py-2 max-sm:min-w-0 max-sm:grow max-sm:p-0">
                  <StateWord state={item.state} />
                  {#if item.late}<StateWord state="late" needsPerson />{/if}
                  {#if item.waitingFor}<span class="text-sm text-faint" title={item.waitingFor}>for {item.waitingFor}</span>{/if}
                </td>
                <td class="px-3 py-2 text-right text-sm whitespace-nowrap text-faint max-sm:p-0"><When time={item.updated} /></td>
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
      {#if page.more}<button class="button mt-3" onclick={() => (wanted += 100)}>More</button>{/if}
    {:else if words || inState || narrowing.isSet}
      <p class="sheet p-6 text-faint">No case fits. Take away a word, or something it is narrowed to.</p>
    {:else}
      <p class="sheet p-6 text-faint">No cases yet. <a href="/ask">Ask for something</a>.</p>
    {/if}
  {/snippet}
</Waiting>
