<script lang="ts">
  import type { CouldDoRow } from '../api/client';

  let { row }: { row: CouldDoRow } = $props();

  const SAYS = { allow: 'goes through alone', ask: 'asks', deny: 'never' } as const;

  /** Whether people are asked from the first call on. */
  function asks(line: CouldDoRow['lines'][number]): boolean {
    return line.verdict === 'ask' || (line.verdict === 'allow' && row.works === 'supervised');
  }

  /** Whether anything is left that no line speaks about. */
  const open = $derived(!row.lines.length || row.lines[row.lines.length - 1]!.when !== '');
</script>

<section class="sheet p-4" aria-label="What the mandate says">
  <h2>{row.agent} and {row.tool}</h2>
  {#if row.works === 'shadow'}
    <p class="mt-1 text-signal">In shadow: nothing of this leaves. People do it by hand, and say what they did.</p>
  {/if}
  <ol class="mt-2 space-y-3">
    {#each row.lines as line (line.mandate + line.grant)}
      <li>
        <p>
          <span class="font-semibold">{line.grant}</span>:
          {asks(line) && line.verdict === 'allow' ? 'asks, as it works supervised,' : SAYS[line.verdict]}
          {#if asks(line)}<span class="text-signal">{line.of.join(', ')}</span>{/if}
        </p>
        {#if line.when}<p class="mt-0.5 font-mono text-sm break-words">when {line.when}</p>{/if}
        {#if line.verdict === 'allow'}
          {#each line.limits as limit (limit.words)}
            <p class="text-sm">
              {limit.words}, beyond that
              {#if line.beyond === 'ask'}asks <span class="text-signal">{line.of.join(', ')}</span>{:else}never{/if}
              {#if limit.used !== null}
                <span class="text-faint">· used {limit.used}</span>
                <meter
                  class="ml-1 h-2 w-24 align-middle"
                  min="0"
                  max={limit.atMost}
                  value={limit.used}
                  title="{limit.used} of {limit.atMost}"
                ></meter>
              {/if}
            </p>
          {/each}
        {/if}
      </li>
    {/each}
    {#if open}<li class="text-faint">Anything else: never.</li>{/if}
  </ol>
</section>
