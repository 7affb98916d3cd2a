<script lang="ts">
  import { api } from '../api/client';
  import { inAddress } from '../handbook/draft.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import StateWord from '../parts/state-word.svelte';
  import StopAtOnce from '../parts/stop-at-once.svelte';
  import Waiting from '../parts/waiting.svelte';
  import When from '../parts/when.svelte';
  import { route } from '../router';
  import { session } from '../shell/session.svelte';
  import BriefView from './brief-view.svelte';
  import Lately from './lately.svelte';
  import TryOut from './try-out.svelte';

  const name = route.params.name as string;
  const agent = new Loaded(() => api.agent(name));
  $effect(() => agent.follow());
</script>

<p><a href="/agents">Agents</a> <span class="text-faint">/ {name}</span></p>
<Waiting loaded={agent}>
  {#snippet children({ summary, modelName, brief, pages, mandate, runs, file })}
    <div class="flex flex-wrap items-baseline gap-x-4 gap-y-1">
      <h1>{summary.title}</h1>
      <span class="text-faint"
        >desk {summary.desk} · works {summary.works === 'shadow' ? 'in shadow' : summary.works} · {summary.model}{modelName
          ? `, ${modelName}`
          : ''}</span
      >
      {#if session.is('engineer')}<a class="ml-auto text-sm" href="/handbook/{inAddress(file)}">change the brief</a>{/if}
      <a class={['text-sm', !session.is('engineer') && 'ml-auto']} href="/runs?agent={name}">its runs</a>
      <a class="text-sm" href="/cases?agent={name}">its cases</a>
    </div>
    <Lately lately={summary.lately} />
    {#if summary.today}
      {@const today = summary.today}
      <p class="mt-1 text-sm text-faint">
        Its models today:
        {#if today.mostTokens}{(today.tokens ?? 0).toLocaleString('en-GB')} of {today.mostTokens.toLocaleString('en-GB')} tokens{/if}
        {#if today.mostTokens && today.mostCost}·{/if}
        {#if today.mostCost}{(today.cost ?? 0).toFixed(4)} of {today.mostCost} {summary.lately.currency}{/if}
      </p>
    {/if}
    <div class="mt-4 grid grid-cols-[minmax(0,1fr)] items-start gap-6 lg:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
      <div class="space-y-6">
        <TryOut {name} {pages} />
        <section class="sheet overflow-x-auto" aria-label="Last runs">
          <h2 class="px-4 pt-3">Last runs</h2>
          {#if runs.length}
            <table class="mt-2 w-full">
              <tbody>
                {#each runs as run (run.id)}
                  <tr class="border-t border-line">
                    <td class="px-4 py-1.5 whitespace-nowrap"><a href="/cases/{run.caseId}">{run.caseId}</a></td>
                    <td class="px-2 py-1.5">{run.pageTitle} <span class="text-sm text-faint">{run.stepTitle}</span></td>
                    <td class="px-2 py-1.5">
                      <StateWord state={run.status} needsPerson={['in-doubt', 'held', 'failed'].includes(run.status)} />
                    </td>
                    <td class="px-4 py-1.5 text-right text-sm whitespace-nowrap text-faint"><When time={run.created} /></td>
                  </tr>
                {/each}
              </tbody>
            </table>
          {:else}<p class="px-4 pt-1 pb-3 text-faint">None in the last seven days that you see.</p>{/if}
        </section>
      </div>
      <div class="space-y-6">
        <BriefView {brief} />
        <section class="sheet p-4" aria-label="Pages">
          <h2>Pages it works</h2>
          <ul class="mt-1 space-y-1">
            {#each pages as page (page.name)}
              <li>
                {#if session.is('engineer')}<a href="/handbook/{inAddress(`runbooks/${page.name}.md`)}">{page.title}</a>
                {:else}{page.title}{/if}
                <span class="text-sm text-faint">{page.steps.map((step) => step.title).join(' · ')}</span>
              </li>
            {:else}<li class="text-faint">None yet.</li>{/each}
          </ul>
        </section>
        <section class="sheet p-4" aria-label="What it could do">
          <h2 class="flex items-baseline justify-between">
            What it could do <a class="text-sm font-normal" href="/could-do">everybody’s</a>
          </h2>
          <ul class="mt-1 space-y-2">
            {#each mandate as can (can.tool)}
              <li>
                <span class="font-semibold">{can.tool}</span> <span class="text-sm text-faint">{can.effect}</span>
                <p class={['text-sm wrap-anywhere', can.reach === 'asks' && 'text-signal']}>{can.words}</p>
              </li>
            {:else}<li class="text-faint">Nothing: what isn’t granted is never done.</li>{/each}
          </ul>
        </section>
        <StopAtOnce what="agent" {name} />
      </div>
    </div>
  {/snippet}
</Waiting>
