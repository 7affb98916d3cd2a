<script lang="ts">
  import Self from './value-view.svelte';

  /** Any JSON value, as people read it. */
  let { value }: { value: unknown } = $props();

  /** A list of plain values is read as words with commas between. */
  const words = $derived(
    Array.isArray(value) && value.every((item) => item === null || typeof item !== 'object') ? value.join(', ') || 'none' : undefined,
  );
  const entries = $derived(value !== null && typeof value === 'object' ? Object.entries(value as Record<string, unknown>) : undefined);
</script>

{#if words !== undefined}
  {words}
{:else if entries}
  {#if entries.length}
    <dl class="grid grid-cols-[max-content_1fr] gap-x-3">
      {#each entries as [name, inner] (name)}
        <dt class="text-faint">{name}</dt>
        <dd class="min-w-0 break-words"><Self value={inner} /></dd>
      {/each}
    </dl>
  {:else}<span class="text-faint">none</span>{/if}
{:else if value === null || value === undefined || value === ''}
  <span class="text-faint">none</span>
{:else}<span class="whitespace-pre-wrap">{String(value)}</span>{/if}
