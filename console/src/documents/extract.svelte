<script lang="ts">
  import ValueView from '../parts/value-view.svelte';
  import { linkTo, told, type FoundAt } from './found';

  /** What a page has read of a document: the values and tables it wanted, each with the place it stands at. */
  let { value, found, caseId }: { value: Record<string, unknown>; found: Record<string, FoundAt>; caseId: string } = $props();

  const file = $derived({ document: String(value.id), name: String(value.name) });
</script>

<p>
  <a href={linkTo(caseId, file)}>{file.name}</a> <span class="text-faint">{Number(value.pages) > 1 ? `${value.pages} pages` : ''}</span>
</p>
<dl class="grid grid-cols-[max-content_1fr] gap-x-3">
  {#each Object.entries(found) as [name, at] (name)}
    <dt class="text-faint">{name}</dt>
    <dd class="min-w-0 wrap-anywhere">
      <ValueView value={value[name]} />
      <a class="text-sm" href={linkTo(caseId, at)} title={told(at)}>{[at.sheet, at.at].filter(Boolean).join(', ')}</a>
    </dd>
  {/each}
</dl>
