<script lang="ts">
  import { api, type ReadDocument } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import Waiting from '../parts/waiting.svelte';

  /** What was read of a document: its text by page, its tables, or why there is neither. */
  let { caseId, documentId }: { caseId: string; documentId: string } = $props();

  const read = new Loaded(() => api.reading(caseId, documentId));
  $effect(() => void read.refresh());

  const rowsAtFirst = 100;
  let all = $state(false);
  const words = (cell: unknown): string => (cell === null ? '' : typeof cell === 'boolean' ? (cell ? 'yes' : 'no') : String(cell));
  type Table = ReadDocument['tables'][number];
  const rows = (table: Table) => (all ? table.rows : table.rows.slice(0, rowsAtFirst));
</script>

<Waiting loaded={read}>
  {#snippet children(shown)}
    {#if shown.outcome !== 'text'}
      <p>{shown.says}{shown.detail ? ` (${shown.detail})` : ''}</p>
    {:else if shown.tables.length}
      {#each shown.tables as table (table.name)}
        <h3 class="mt-2 font-semibold">{table.name}</h3>
        {#each table.doubts as doubt (doubt)}<p class="border-l-4 border-l-signal pl-2">Doubtful: {doubt}.</p>{/each}
        <div class="max-h-96 overflow-auto">
          <table class="w-full text-sm">
            <tbody>
              {#each rows(table) as row (row.number)}
                <tr class={['border-b border-line align-top', row.number === table.header && 'font-semibold']}>
                  <th scope="row" class="pr-3 text-right font-normal text-faint">{row.number}</th>
                  {#each row.cells as cell, at (at)}<td class={['pr-3', typeof cell === 'number' && 'text-right']}>{words(cell)}</td>{/each}
                </tr>
              {/each}
            </tbody>
          </table>
        </div>
        {#if table.rows.length > rowsAtFirst && !all}
          <button type="button" class="button mt-2" onclick={() => (all = true)}>Show all {table.rows.length} rows</button>
        {/if}
      {/each}
    {:else}
      {#if shown.detail}<p class="text-faint">{shown.detail}</p>{/if}
      <div class="max-h-96 overflow-auto">
        {#each shown.pages as page (page.number)}
          {#if shown.pages.length > 1}<h3 class="mt-2 text-sm text-faint">page {page.number}</h3>{/if}
          <p class="whitespace-pre-wrap">{page.text}</p>
        {/each}
      </div>
    {/if}
  {/snippet}
</Waiting>
