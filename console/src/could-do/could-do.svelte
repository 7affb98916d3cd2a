<script lang="ts">
  import { api, type CouldDoRow } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import Waiting from '../parts/waiting.svelte';
  import StopAtOnce from '../parts/stop-at-once.svelte';
  import Lines from './lines.svelte';
  import { session } from '../shell/session.svelte';
  import { amountOf, around } from './limits';
  import OtherLimits from './other-limits.svelte';
  import Thought from './thought.svelte';

  const table = new Loaded(api.couldDo);
  $effect(() => table.follow());

  let chosen = $state('');

  function agents(rows: CouldDoRow[]): string[] {
    return [...new Set(rows.map((row) => row.agent))];
  }

  /** Tools that some agent can use come first; those that nobody can use are told apart below. */
  function tools(rows: CouldDoRow[], usable: boolean): string[] {
    const used = new Set(rows.filter((row) => row.reach !== 'never').map((row) => row.tool));
    return [...new Set(rows.map((row) => row.tool))].filter((tool) => used.has(tool) === usable);
  }

  function cell(rows: CouldDoRow[], agent: string, tool: string): CouldDoRow {
    return rows.find((row) => row.agent === agent && row.tool === tool)!;
  }

  function words(row: CouldDoRow): string {
    const of = row.lines.flatMap((line) => line.of);
    const narrowed = row.lines.some((line) => line.when || line.limits.length);
    return row.reach === 'never'
      ? '–'
      : row.reach === 'shadow'
        ? 'in shadow'
        : row.reach === 'asks'
          ? `asks ${of[0] ?? 'people'}`
          : narrowed
            ? 'alone, within limits'
            : 'alone';
  }
</script>

<div class="mb-4 flex flex-wrap items-baseline gap-4">
  <h1>Could do</h1>
  <p class="text-faint">What each agent can do with each tool, as the handbook in force says. Choose a cell to see why.</p>
  <a class="ml-auto text-sm" href="/api/mandates/table.csv" download="could-do.csv">as CSV</a>
</div>

<Waiting loaded={table}>
  {#snippet children({ edition, rows })}
    {@const unused = tools(rows, false)}
    {@const row = rows.find((one) => `${one.agent} ${one.tool}` === chosen)}
    <div class="grid grid-cols-[minmax(0,1fr)] items-start gap-6 lg:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
      <div class="sheet overflow-x-auto">
        <table class="w-full">
          <caption class="sr-only">Agents by tools, edition {edition}</caption>
          <thead class="border-b border-line text-left text-sm text-faint">
            <tr>
              <th scope="col" class="px-3 py-2 font-normal">Tool</th>
              {#each agents(rows) as agent (agent)}<th scope="col" class="px-3 py-2 font-normal">{agent}</th>{/each}
            </tr>
          </thead>
          <tbody>
            {#each tools(rows, true) as tool (tool)}
              <tr class="border-b border-line last:border-0">
                <th scope="row" class="px-3 py-1 text-left font-normal whitespace-nowrap">
                  {tool} <span class="text-sm text-faint">{cell(rows, agents(rows)[0]!, tool).effect}</span>
                </th>
                {#each agents(rows) as agent (agent)}
                  {@const one = cell(rows, agent, tool)}
                  <td class="px-1 py-1">
                    <button
                      class={[
                        'w-full cursor-pointer rounded-sheet px-2 py-1 text-left text-sm hover:bg-accent-soft',
                        one.reach === 'alone' && 'text-accent',
                        one.reach === 'asks' && 'text-signal',
                        one.reach === 'never' && 'text-faint',
                        chosen === `${agent} ${tool}` && 'bg-accent-soft outline outline-accent',
                      ]}
                      aria-label="{agent}, {tool}: {one.reach === 'never' ? 'never' : words(one)}"
                      aria-pressed={chosen === `${agent} ${tool}`}
                      onclick={() => (chosen = `${agent} ${tool}`)}>{words(one)}</button
                    >
                  </td>
                {/each}
              </tr>
            {/each}
          </tbody>
        </table>
        {#if unused.length}<p class="border-t border-line px-3 py-2 text-sm text-faint">No agent can use: {unused.join(', ')}</p>{/if}
      </div>
      <div class="space-y-4">
        {#if row}
          <Lines {row} />
          {#key chosen}
            <Thought agent={row.agent} tool={row.tool} />
            {#if session.is('engineer')}
              {#each row.lines.filter((line) => amountOf(line) !== undefined) as line (line.grant)}
                {@const now = amountOf(line) ?? 0}
                <OtherLimits
                  of={{ agent: row.agent, grant: line.grant }}
                  title="What if ‘{line.grant}’ went up to another amount?"
                  {now}
                  first={around(now)}
                />
              {/each}
            {/if}
            <div class="space-y-1"><StopAtOnce what="agent" name={row.agent} /> <StopAtOnce what="tool" name={row.tool} /></div>
          {/key}
        {:else}<p class="text-faint">Nothing is chosen. What isn’t granted is never done.</p>{/if}
      </div>
    </div>
  {/snippet}
</Waiting>
