<script lang="ts">
  import type { Comparison } from '../api/client';

  /** What lies between two handbooks: what it means, then the texts. */
  let { comparison }: { comparison: Comparison } = $props();

  function sort(line: string): string {
    return line.startsWith('+++') || line.startsWith('---')
      ? 'text-faint'
      : line.startsWith('+')
        ? 'bg-gone'
        : line.startsWith('-')
          ? 'text-faint line-through'
          : line.startsWith('@@')
            ? 'text-faint'
            : '';
  }
</script>

<h2 class="mb-2">What it means</h2>
{#if comparison.meanings.length}
  <ul class="sheet mb-5 space-y-1 p-4">
    {#each comparison.meanings as meaning, index (index)}<li>
        <span class="text-sm text-faint">{meaning.file}</span><br />{meaning.sentence}
      </li>{/each}
  </ul>
{:else}<p class="mb-5 text-faint">{comparison.files.length ? 'Nothing that changes what the handbook does.' : 'Nothing differs.'}</p>{/if}
{#each comparison.files as file (file.path)}
  <details class="sheet mb-2">
    <summary class="cursor-pointer px-3 py-2"
      ><span class="font-mono text-sm">{file.path}</span> <span class="text-sm text-faint">{file.change}</span></summary
    >
    <pre class="overflow-x-auto border-t border-line px-3 py-2 font-mono text-sm">{#each file.text.split('\n') as line, index (index)}<span
          class={sort(line)}>{line}</span
        ><br />{/each}</pre>
  </details>
{/each}
