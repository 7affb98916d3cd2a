<script lang="ts">
  import { api, type ApprovalSummary } from '../api/client';
  import { asked } from './asked.svelte';
  import Away from './away.svelte';
  import Wishes from '../handbook/wishes.svelte';
  import Together from './together.svelte';
  import { fromAddress } from '../parts/in-address';
  import { listKeys } from '../parts/list-keys';
  import { Loaded } from '../parts/loaded.svelte';
  import Narrow from '../parts/narrow.svelte';
  import { Narrowing } from '../parts/narrowing.svelte';
  import { upTo } from '../parts/pages';
  import StateWord from '../parts/state-word.svelte';
  import TimeLeft from '../parts/time-left.svelte';
  import Waiting from '../parts/waiting.svelte';
  import { route } from '../router';
  import { session } from '../shell/session.svelte';

  let wanted = $state(30);
  /** How many of those that wait for the person are shown: the most urgent first, so that they are there at once. */
  let most = $state(100);
  let mine = $state(fromAddress('mine') === 'yes');
  const narrowing = new Narrowing();

  const approvals = new Loaded(async () => {
    const [waiting, open, closed] = await Promise.all([
      upTo(most, (cursor) => api.approvals({ asked: true, limit: 100, ...narrowing.query, ...cursor })),
      upTo(100, (cursor) => api.approvals({ limit: 100, ...narrowing.query, ...cursor })),
      upTo(wanted, (cursor) => api.approvals({ state: 'closed', limit: 30, ...narrowing.query, ...cursor })),
    ]);
    return { asked: waiting.items, moreAsked: waiting.more, others: open.items.filter((item) => !item.asked || handedAway(item)), closed };
  });
  let together = $state<string[]>([]);
  const MOST_TOGETHER = 50;

  /** Those that ask about calls of one tool and nothing else, where there are several. */
  function alike(items: ApprovalSummary[]): ApprovalSummary[][] {
    const byTool: Record<string, ApprovalSummary[]> = {};
    items
      .filter((item) => item.about === 'call' && item.tool && !handedAway(item))
      .forEach((item) => (byTool[item.tool!] ??= []).push(item));
    return Object.values(byTool)
      .filter((same) => same.length > 1)
      .map((same) => same.slice(0, MOST_TOGETHER));
  }

  /** Whether somebody else was handed it; one may answer it all the same. */
  const handedAway = (item: ApprovalSummary): boolean => item.handedTo != null && item.handedTo.id !== session.value?.id;
  $effect(() => {
    void [wanted, most];
    if (route.pathname === '/approvals') {
      narrowing.keep({ mine: mine ? 'yes' : '' });
    }
    return approvals.follow();
  });
</script>

{#snippet line(item: ApprovalSummary)}
  <a
    data-item
    href="/approvals/{item.id}"
    class={[
      'grid grid-cols-[minmax(0,1fr)_auto] items-baseline gap-x-3 border-b border-line px-3 py-2 text-ink no-underline last:border-b-0 hover:bg-accent-soft',
      item.asked && !handedAway(item) && 'border-l-4 border-l-signal',
    ]}
  >
    <span class="font-semibold wrap-anywhere">{item.headline}</span>
    {#if item.state === 'open'}
      {#if item.paused}<span class="text-sm text-faint">its time stands still</span>{:else if item.due}<TimeLeft due={item.due} />{/if}
    {:else}<StateWord state={item.state} />{/if}
    <span class="col-span-2 truncate text-sm text-faint"
      >{item.caseId} · {item.requester.name} · {item.caseSubject} · asks {item.asks.join(' and ')}{item.handedTo
        ? ` · handed to ${item.handedTo.name}`
        : ''}</span
    >
  </a>
{/snippet}

<div class="mb-3 flex flex-wrap items-baseline justify-between gap-x-6">
  <h1>Approvals</h1>
  <label class="text-sm text-faint"><input type="checkbox" bind:checked={mine} /> only what waits for me</label>
</div>
<div class="mb-4 flex flex-wrap items-baseline justify-between gap-x-6 gap-y-2">
  <Narrow {narrowing} always={['desk', 'page']} />
  <Away />
  {#if asked.possible}
    <label class="text-sm text-faint"
      ><input type="checkbox" checked={asked.wanted} onchange={(event) => void asked.want(event.currentTarget.checked)} /> tell me in this browser
      when something waits</label
    >
  {/if}
</div>
{#if together.length}
  <h2 class="mb-2">Decided together</h2>
  <div class="max-w-3xl"><Together ids={together} onDone={() => ((together = []), void approvals.refresh())} /></div>
{:else}
  <Waiting loaded={approvals}>
    {#snippet children(value)}
      <div use:listKeys class="max-w-3xl space-y-6">
        {#if session.is('engineer')}<Wishes own={false} />{/if}
        <section>
          <h2 class="mb-2">Waits for you</h2>
          {#each alike(value.asked) as same (same[0]!.tool)}
            <p class="mb-2 text-sm">
              <button class="cursor-pointer text-accent underline" onclick={() => (together = same.map((item) => item.id))}
                >Look at {same.length} that call {same[0]!.tool} together</button
              >
            </p>
          {/each}
          <div class="sheet">
            {#each value.asked as item (item.id)}{@render line(item)}{:else}<p class="p-4 text-faint">
                {narrowing.isSet ? 'Nothing that fits waits for your answer.' : 'Nothing waits for your answer.'}
              </p>{/each}
          </div>
          {#if value.moreAsked}<button class="button mt-3" onclick={() => (most += 200)}>More</button>{/if}
        </section>
        {#if value.others.length && !mine}
          <section>
            <h2 class="mb-2">Waits for others</h2>
            <div class="sheet">
              {#each value.others as item (item.id)}{@render line(item)}{/each}
            </div>
          </section>
        {/if}
        {#if value.closed.items.length && !mine}
          <section>
            <h2 class="mb-2">Decided</h2>
            <div class="sheet">
              {#each value.closed.items as item (item.id)}{@render line(item)}{/each}
            </div>
            {#if value.closed.more}<button class="button mt-3" onclick={() => (wanted += 60)}>More</button>{/if}
          </section>
        {/if}
      </div>
    {/snippet}
  </Waiting>
{/if}
