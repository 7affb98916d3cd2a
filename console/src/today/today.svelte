<script lang="ts">
  import { api, type CaseSummary } from '../api/client';
  import { listKeys } from '../parts/list-keys';
  import { Loaded } from '../parts/loaded.svelte';
  import StateWord from '../parts/state-word.svelte';
  import TimeLeft from '../parts/time-left.svelte';
  import Waiting from '../parts/waiting.svelte';
  import When from '../parts/when.svelte';
  import Cases from '../cases/cases.svelte';
  import { session } from '../shell/session.svelte';
  import Wishes from '../handbook/wishes.svelte';
  import Stopped from './stopped.svelte';

  const today = new Loaded(api.today);
  $effect(() => (session.house ? today.follow() : undefined));
</script>

{#snippet caseLine(item: CaseSummary, withState: boolean)}
  <a
    data-item
    href="/cases/{item.id}"
    class="flex flex-wrap gap-x-3 border-b border-line px-3 py-2 text-ink sm:flex-nowrap no-underline last:border-0 hover:bg-accent-soft"
  >
    <span class="w-16 shrink-0 text-faint">{item.id}</span>
    <span class="min-w-0 grow truncate max-sm:basis-3/5">{item.title ?? item.subject}</span>
    {#if withState}<StateWord state={item.state} />{/if}
    <span class="w-24 shrink-0 text-right text-sm text-faint"><When time={item.updated} /></span>
  </a>
{/snippet}

{#if !session.house}
  <Cases />
{:else}
  <h1 class="mb-4">Today</h1>
  <Waiting loaded={today}>
    {#snippet children(value)}
      <div class="grid grid-cols-[minmax(0,1fr)] gap-6 lg:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]" use:listKeys>
        <section aria-labelledby="asked">
          <Stopped stops={value.stopped} onChanged={() => today.refresh()} />
          {#if session.is('engineer')}<Wishes own={false} />{/if}
          <h2 id="asked" class="mb-2">
            Waits for you {#if value.asked.length}<span class="ml-1 rounded-sm bg-signal-soft px-1.5 text-signal">{value.asked.length}</span
              >{/if}
          </h2>
          <div class="sheet">
            {#each value.asked as item (item.id)}
              <a
                data-item
                href="/approvals/{item.id}"
                class="block border-b border-l-4 border-line border-l-signal px-3 py-2 text-ink no-underline last:border-b-0 hover:bg-accent-soft"
              >
                <span class="flex justify-between gap-3">
                  <span class="font-semibold">{item.headline}</span>
                  {#if item.due && !item.paused}<TimeLeft due={item.due} />{/if}
                </span>
                <span class="block truncate text-sm text-faint">{item.caseId} · {item.requester.name} · {item.caseSubject}</span>
              </a>
            {:else}<p class="p-4 text-faint">Nothing waits for your answer.</p>{/each}
          </div>
          {#if value.inDoubt.length}
            <h2 class="mt-6 mb-2">In doubt: did these happen?</h2>
            <div class="sheet">
              {#each value.inDoubt as item (item.run.id)}
                <a
                  data-item
                  href="/cases/{item.about.id}"
                  class="block border-b border-l-4 border-line border-l-signal px-3 py-2 text-ink no-underline last:border-b-0 hover:bg-accent-soft"
                >
                  <span class="block font-semibold">{item.run.doubt?.tool}</span>
                  <span class="block truncate text-sm text-faint">{item.about.id} · {item.about.subject}</span>
                </a>
              {/each}
            </div>
          {/if}
          {#if value.held.length}
            <h2 class="mt-6 mb-2">Held, in shadow: what do you do?</h2>
            <div class="sheet">
              {#each value.held as item (item.run.id)}
                <a
                  data-item
                  href="/cases/{item.about.id}"
                  class="block border-b border-l-4 border-line border-l-signal px-3 py-2 text-ink no-underline last:border-b-0 hover:bg-accent-soft"
                >
                  <span class="block truncate font-semibold">{item.run.held?.says}</span>
                  <span class="block truncate text-sm text-faint">{item.about.id} · {item.about.subject}</span>
                </a>
              {/each}
            </div>
          {/if}
          {#if value.troubled.length || value.resting.length || value.mailboxes.length}
            <h2 class="mt-6 mb-2">Went wrong</h2>
            <div class="sheet">
              {#each value.resting as rests (rests.connection)}
                <p class="border-b border-line px-3 py-2 last:border-b-0">
                  The connection <span class="font-mono">{rests.connection}</span> keeps failing; nothing is sent to it for <TimeLeft
                    due={rests.until}
                  />.
                </p>
              {/each}
              {#each value.mailboxes as mailbox (mailbox.intake)}
                <p class="border-b border-line px-3 py-2 last:border-b-0">
                  Mails to <a href="/intake">{mailbox.intake}</a>: <span class="break-words">{mailbox.trouble}</span>
                </p>
              {/each}
              {#each value.troubled as item (item.run.id)}
                <a
                  data-item
                  href="/cases/{item.about.id}"
                  class="block border-b border-l-4 border-line border-l-signal px-3 py-2 text-ink no-underline last:border-b-0 hover:bg-accent-soft"
                >
                  <span class="block"
                    ><span class="font-semibold">{item.run.troubles[0]?.problem}</span> at ‘{item.run.troubles[0]?.step}’</span
                  >
                  <span class="block truncate text-sm text-faint">{item.about.id} · {item.about.subject}</span>
                </a>
              {/each}
            </div>
          {/if}
          {#if value.owned.length}
            <h2 class="mt-6 mb-2">Yours to see to</h2>
            <div class="sheet">
              {#each value.owned as item (item.id)}{@render caseLine(item, false)}{/each}
            </div>
          {/if}
          {#if value.late.length}
            <h2 class="mt-6 mb-2"><a href="/cases?state=late">Late</a></h2>
            <div class="sheet">
              {#each value.late as item (item.id)}{@render caseLine(item, true)}{/each}
            </div>
          {/if}
          {#if value.told.length}
            <h2 class="mt-6 mb-2">Told to you</h2>
            <div class="sheet">
              {#each value.told as item (item.note.id)}
                <a
                  data-item
                  href="/cases/{item.about.id}"
                  class="block border-b border-line px-3 py-2 text-ink no-underline last:border-b-0 hover:bg-accent-soft"
                >
                  <span class="block break-words">{item.note.text}</span>
                  <span class="block truncate text-sm text-faint"
                    >{item.note.author.name}, <When time={item.note.at} />, to {item.note.told} · {item.about.id}</span
                  >
                </a>
              {/each}
            </div>
          {/if}
          <h2 class="mt-6 mb-2">Handed over to people</h2>
          <div class="sheet">
            {#each value.handedOver as item (item.id)}{@render caseLine(item, true)}{:else}<p class="p-4 text-faint">
                No case has been handed over.
              </p>{/each}
          </div>
        </section>
        <section>
          <h2 class="mb-2">Agents at work</h2>
          <div class="sheet">
            {#each value.working as item (item.run.id)}
              <a
                data-item
                href="/cases/{item.about.id}"
                class="block border-b border-line px-3 py-2 text-ink no-underline last:border-0 hover:bg-accent-soft"
              >
                <span class="block">{item.run.agent} at ‘{item.run.stepTitle}’</span>
                <span class="block truncate text-sm text-faint">{item.about.id} · {item.about.subject}</span>
              </a>
            {:else}<p class="p-4 text-faint">No agent is at work right now.</p>{/each}
          </div>
          <h2 class="mt-6 mb-2">Settled last</h2>
          <div class="sheet">
            {#each value.settled as item (item.id)}{@render caseLine(item, false)}{:else}<p class="p-4 text-faint">
                Nothing has been settled yet.
              </p>{/each}
          </div>
        </section>
      </div>
    {/snippet}
  </Waiting>
{/if}
