<script lang="ts">
  import { api, type AgreementSheet, type ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import Waiting from '../parts/waiting.svelte';
  import When from '../parts/when.svelte';
  import { session } from '../shell/session.svelte';
  import { agreed, comparable, next, SORTS } from './agreement';

  /** How far people did what was proposed, tool by tool; and who may be trusted with more. */
  let days = $state(30);
  const loaded = new Loaded(() => api.agreement(days));
  $effect(() => {
    void days;
    void loaded.refresh();
  });

  let chosen = $state('');
  let changedFile = $state('');
  let failure = $state<ApiError>();

  async function trust(who: { agent?: string; tool?: string }, works: 'alone' | 'supervised' | 'shadow'): Promise<void> {
    failure = undefined;
    try {
      changedFile = (await api.trust({ ...who, works })).path;
    } catch (error) {
      failure = error as ApiError;
    }
  }

  function how(works: string): string {
    return works === 'shadow' ? 'in shadow' : works;
  }

  function share(sheet: AgreementSheet): string {
    const all = comparable(sheet);
    return all ? `${Math.round((agreed(sheet) / all) * 100)} %` : '–';
  }
</script>

<div class="mb-4 flex flex-wrap items-baseline gap-4">
  <h1>Agreement</h1>
  <p class="text-faint">What people did where a call was held in shadow, or where they were asked about it.</p>
  <label class="ml-auto text-sm">
    The last <select class="field inline w-auto" bind:value={days}>
      {#each [7, 30, 90, 365] as some (some)}<option value={some}>{some} days</option>{/each}
    </select>
  </label>
</div>

{#if changedFile}
  <p class="sheet mb-4 border-l-4 border-l-accent p-3" role="status">
    Changed in your draft: <span class="font-mono">{changedFile}</span>. It holds once you have
    <a href="/handbook/changes">looked at the changes and published them</a>.
  </p>
{/if}
{#if failure}<div class="mb-4"><FailureNote {failure} /></div>{/if}

<Waiting {loaded}>
  {#snippet children({ currency, tools })}
    <div class="space-y-4">
      {#each tools as sheet (sheet.tool)}
        <section class="sheet p-4" aria-labelledby="of-{sheet.tool}">
          <div class="flex flex-wrap items-baseline gap-x-3 gap-y-1">
            <h2 id="of-{sheet.tool}" class="font-mono">{sheet.tool}</h2>
            <span class="text-sm text-faint"
              >works {how(sheet.works)}{#each Object.entries(sheet.agents) as [agent, its] (agent)}, {agent} {how(its)}{/each}</span
            >
            <span class="ml-auto">{share(sheet)} <span class="text-sm text-faint">the same, of {comparable(sheet)}</span></span>
          </div>
          <div class="mt-2 flex h-2 w-full overflow-hidden rounded-sm bg-line" role="img" aria-label="{share(sheet)} the same">
            {#each SORTS as sort (sort.word)}
              <span class={sort.colour} style:flex-grow={sheet.counted[sort.word]?.calls ?? 0}></span>
            {/each}
          </div>
          <dl class="mt-2 grid gap-x-6 text-sm sm:grid-cols-4">
            {#each SORTS as sort (sort.word)}
              {@const of = sheet.counted[sort.word]!}
              <div class="flex gap-2 sm:block">
                <dt class="text-faint"><span class={['mr-1 inline-block size-2 rounded-sm', sort.colour]}></span>{sort.says}</dt>
                <dd>{of.calls}{of.money ? ` · ${of.money.toFixed(2)} ${currency}` : ''}</dd>
              </div>
            {/each}
          </dl>
          <div class="mt-3 flex flex-wrap items-center gap-3 text-sm">
            {#if sheet.calls.length}
              <button
                class="cursor-pointer text-accent underline"
                aria-expanded={chosen === sheet.tool}
                onclick={() => (chosen = chosen === sheet.tool ? '' : sheet.tool)}
              >
                {chosen === sheet.tool ? 'Hide the calls' : 'See the calls'}
              </button>
            {/if}
            {#if session.is('engineer')}
              {@const toTool = next(sheet.works)}
              {#if toTool}
                <button class="button" onclick={() => trust({ tool: sheet.tool }, toTool)}>Have {sheet.tool} work {toTool}</button>
              {/if}
              {#each Object.entries(sheet.agents) as [agent, its] (agent)}
                {@const toAgent = next(its)}
                {#if toAgent}
                  <button class="button" onclick={() => trust({ agent }, toAgent)}>Have {agent} work {toAgent}</button>
                {/if}
              {/each}
              {#if sheet.acts && sheet.works === 'alone'}
                <button class="cursor-pointer text-accent underline" onclick={() => trust({ tool: sheet.tool }, 'shadow')}
                  >Set {sheet.tool} to shadow</button
                >
              {/if}
            {/if}
          </div>
          {#if chosen === sheet.tool}
            <ul class="mt-3 border-t border-line text-sm">
              {#each sheet.calls as call (`${call.caseId} ${call.at} ${call.says}`)}
                <li class="flex flex-wrap gap-x-3 border-b border-line py-2 last:border-0">
                  <a class="w-16" href="/cases/{call.caseId}">{call.caseId}</a>
                  <span class="w-28 text-faint"><When time={call.at} /></span>
                  <span class={['w-36', call.sort === 'other' && 'text-signal']}>{SORTS.find((sort) => sort.word === call.sort)?.says}</span
                  >
                  <span class="min-w-0 grow basis-80 wrap-anywhere"
                    >{call.says}{#if call.did}<span class="block text-faint">{call.did}</span>{/if}</span
                  >
                </li>
              {/each}
            </ul>
          {/if}
        </section>
      {:else}<p class="sheet p-6 text-faint">
          Nothing was held or asked about. An agent or a tool that says <span class="font-mono">works: shadow</span> proposes what it would do,
          and this page tells how far people did the same.
        </p>{/each}
      <p class="text-sm text-faint">
        It can’t be known how people would have acted had they not seen what was proposed. Calls that nobody said anything of aren’t
        compared.
      </p>
    </div>
  {/snippet}
</Waiting>
