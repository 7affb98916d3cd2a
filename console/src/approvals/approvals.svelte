<script lang="ts">
  import { api, type ApprovalSummary } from '../api/client';
  import { listKeys } from '../parts/list-keys';
  import { Loaded } from '../parts/loaded.svelte';
  import Narrow from '../parts/narrow.svelte';
  import { Narrowing } from '../parts/narrowing.svelte';
  import { upTo } from '../parts/pages';
  import StateWord from '../parts/state-word.svelte';
  import TimeLeft from '../parts/time-left.svelte';
  import Waiting from '../parts/waiting.svelte';
  import { route } from '../router';

  let wanted = $state(30);
  const narrowing = new Narrowing();

  const approvals = new Loaded(async () => {
    const [asked, open, closed] = await Promise.all([
      upTo(1_000, (cursor) => api.approvals({ asked: true, limit: 200, ...narrowing.query, ...cursor })),
      upTo(100, (cursor) => api.approvals({ limit: 100, ...narrowing.query, ...cursor })),
      upTo(wanted, (cursor) => api.approvals({ state: 'closed', limit: 30, ...narrowing.query, ...cursor })),
    ]);
    return { asked: asked.items, others: open.items.filter((item) => !item.asked), closed };
  });
  $effect(() => {
    void wanted;
    if (route.pathname === '/approvals') {
      narrowing.keep();
    }
    return approvals.follow();
  });
</script>

{#snippet line(item: ApprovalSummary)}
  <a
    data-item
    href="/approvals/{item.id}"
    class={[
      'flex flex-wrap items-baseline gap-x-3 border-b border-line px-3 py-2 text-ink no-underline last:border-b-0 hover:bg-accent-soft',
      item.asked && 'border-l-4 border-l-signal',
    ]}
  >
    <span class="grow font-semibold">{item.question}</span>
    {#if item.state === 'open'}
      {#if item.paused}<span class="text-sm text-faint">its time stands still</span>{:else if item.due}<TimeLeft due={item.due} />{/if}
    {:else}<StateWord state={item.state} />{/if}
    <span class="basis-full truncate text-sm text-faint"
      >{item.caseId} · {item.requester.name} · {item.caseSubject} · asks {item.asks.join(' and ')}</span
    >
  </a>
{/snippet}

<h1 class="mb-4">Approvals</h1>
<Narrow {narrowing} />
<Waiting loaded={approvals}>
  {#snippet children(value)}
    <div use:listKeys class="max-w-3xl space-y-6">
      <section>
        <h2 class="mb-2">Waits for you</h2>
        <div class="sheet">
          {#each value.asked as item (item.id)}{@render line(item)}{:else}<p class="p-4 text-faint">
              {narrowing.isSet ? 'Nothing that fits waits for your answer.' : 'Nothing waits for your answer.'}
            </p>{/each}
        </div>
      </section>
      {#if value.others.length}
        <section>
          <h2 class="mb-2">Waits for others</h2>
          <div class="sheet">
            {#each value.others as item (item.id)}{@render line(item)}{/each}
          </div>
        </section>
      {/if}
      {#if value.closed.items.length}
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
