<script lang="ts">
  import ValueView from '../parts/value-view.svelte';
  import Extract from './extract.svelte';
  import { linkTo, told, type FoundAt } from './found';

  /** A value that a run has saved; what was read of a document leads to its place there. */
  let { value, found = {}, caseId }: { value: unknown; found?: Record<string, FoundAt>; caseId: string } = $props();

  const map = $derived(value !== null && typeof value === 'object' ? (value as Record<string, unknown>) : {});
</script>

{#if map.id && map.places && map.outcome}
  <Extract value={map} {found} {caseId} />
{:else}
  <ValueView {value} />
  {#each Object.entries(found) as [part, at] (part)}<a class="block text-sm" href={linkTo(caseId, at)}>{told(at)}</a>{/each}
{/if}
