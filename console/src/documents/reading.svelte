<script lang="ts">
  import { api, type ReadDocument } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import Waiting from '../parts/waiting.svelte';
  import { isAt, letters, marked } from './found';

  /** What was read of a document: its pages as they look and their text, its tables, or why there is neither. */
  let {
    caseId,
    documentId,
    sheet = '',
    at = '',
    words = '',
    onRead = () => {},
  }: { caseId: string; documentId: string; sheet?: string; at?: string; words?: string; onRead?: (shown: ReadDocument) => void } = $props();

  const read = new Loaded(async () => {
    const shown = await api.reading(caseId, documentId);
    onRead(shown);
    return shown;
  });
  $effect(() => void read.refresh());

  const rowsAtFirst = 100;
  const pagesAtFirst = 5;
  let all = $state(false);
  const cellWords = (cell: unknown): string => (cell === null ? '' : typeof cell === 'boolean' ? (cell ? 'yes' : 'no') : String(cell));
  type Table = ReadDocument['tables'][number];
  const rows = (table: Table) => (all ? table.rows : table.rows.slice(0, rowsAtFirst));
  const isMeant = (table: Table): boolean => !sheet || table.name === sheet;
  const columns = (table: Table): number[] => [
    ...Array(Math.max(0, ...table.rows.slice(0, rowsAtFirst).map((row) => row.cells.length))).keys(),
  ];

  const pictured = (shown: ReadDocument): boolean => shown.type === 'application/pdf' || shown.type.startsWith('image/');
  /** Pages that look like something: those of a PDF file, or a photo; of one that wasn't read, the first may still be seen. */
  function pages(shown: ReadDocument): { number: number; text: string }[] {
    const known = shown.pages.length ? shown.pages : [{ number: 1, text: '' }];
    const wanted = Number(at.replace('page ', '')) || 0;
    return all ? known : known.filter((page) => (wanted ? page.number === wanted : page.number <= pagesAtFirst));
  }
  const picture = (page: number): string => `/api/cases/${caseId}/documents/${documentId}/pages/${page}`;

  function reveal(element: HTMLElement): void {
    element.scrollIntoView({ block: 'center' });
  }
  const show = (meant: boolean) => (element: HTMLElement) => {
    if (meant) reveal(element);
  };
</script>

{#snippet text(page: string)}
  <p class="whitespace-pre-wrap">
    {#each marked(page, words) as part, index (index)}{#if index % 2}<mark class="bg-accent/20 text-ink" {@attach show(index === 1)}
          >{part}</mark
        >{:else}{part}{/if}{/each}
  </p>
{/snippet}

<Waiting loaded={read}>
  {#snippet children(shown)}
    {#if shown.outcome !== 'text'}
      <p>{shown.says}{shown.detail ? ` (${shown.detail})` : ''}</p>
    {:else if shown.detail}<p class="text-faint">{shown.detail}</p>{/if}
    {#if pictured(shown) && shown.outcome !== 'encrypted' && shown.outcome !== 'corrupt'}
      {#each pages(shown) as page (page.number)}
        {@const meant = at === `page ${page.number}`}
        <figure class={['mt-3 grid gap-3', page.text && 'xl:grid-cols-2']} {@attach show(meant && !words)}>
          <img
            src={picture(page.number)}
            alt="Page {page.number} as it looks"
            loading="lazy"
            class={['aspect-[auto_1/1.4] w-full border bg-white text-black', meant ? 'border-accent' : 'border-line']}
          />
          <figcaption>
            {#if shown.pages.length > 1}<p class="text-sm text-faint">page {page.number}</p>{/if}
            {@render text(page.text)}
          </figcaption>
        </figure>
      {/each}
      {#if shown.pages.length > pages(shown).length}
        <button type="button" class="button mt-2" onclick={() => (all = true)}>Show all {shown.pages.length} pages</button>
      {/if}
    {/if}
    {#each shown.tables as table (table.name)}
      <h3 class="mt-2 font-semibold">{table.name}</h3>
      {#each table.doubts as doubt (doubt)}<p class="border-l-4 border-l-signal pl-2">Doubtful: {doubt}.</p>{/each}
      <div class="max-h-[34rem] overflow-auto">
        <table class="w-full text-sm">
          <thead>
            <tr class="border-b border-line text-faint">
              <th class="pr-3"><span class="sr-only">row</span></th>
              {#each columns(table) as column (column)}<th class="pr-3 text-left font-normal">{letters(column)}</th>{/each}
            </tr>
          </thead>
          <tbody>
            {#each rows(table) as row (row.number)}
              {@const rowMeant = isMeant(table) && isAt(at, row.number)}
              <tr
                class={['border-b border-line align-top', row.number === table.header && 'font-semibold', rowMeant && 'bg-accent/15']}
                aria-current={rowMeant ? 'location' : undefined}
                {@attach show(rowMeant)}
              >
                <th scope="row" class="pr-3 text-right font-normal text-faint">{row.number}</th>
                {#each row.cells as cell, column (column)}
                  {@const meant = isMeant(table) && isAt(at, row.number, column)}
                  <td
                    class={[
                      'pr-3',
                      typeof cell === 'number' && 'text-right',
                      meant && 'bg-accent/15 font-semibold outline-2 outline-accent',
                    ]}
                    {@attach show(meant)}
                  >
                    <div class="max-w-96 break-words">{cellWords(cell)}</div>
                  </td>
                {/each}
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
      {#if table.rows.length > rowsAtFirst && !all}
        <button type="button" class="button mt-2" onclick={() => (all = true)}>Show all {table.rows.length} rows</button>
      {/if}
    {/each}
    {#if !shown.tables.length && !pictured(shown)}
      <div class="max-h-[34rem] overflow-auto">
        {#each shown.pages as page (page.number)}
          {#if shown.pages.length > 1}<h3 class="mt-2 text-sm text-faint">page {page.number}</h3>{/if}
          {@render text(page.text)}
        {/each}
      </div>
    {/if}
  {/snippet}
</Waiting>
