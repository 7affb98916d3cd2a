<script lang="ts">
  import { said } from './said';
  import Self from './value-view.svelte';

  /** Any JSON value, as people read it. */
  let { value }: { value: unknown } = $props();

  /** A list of plain values is read as words with commas between. */
  const words = $derived(
    Array.isArray(value) && value.every((item) => item === null || typeof item !== 'object')
      ? value.map((item) => said(item)).join(', ') || 'none'
      : undefined,
  );
  /** Maps with the same few plain values make a table. */
  const rows = $derived.by(() => {
    if (
      !Array.isArray(value) ||
      value.length < 1 ||
      !value.every((item) => item !== null && typeof item === 'object' && !Array.isArray(item))
    ) {
      return undefined;
    }
    const items = value as Record<string, unknown>[];
    const names = [...new Set(items.flatMap((item) => Object.keys(item)))];
    const plain = items.every((item) => Object.values(item).every((inner) => inner === null || typeof inner !== 'object'));
    return plain && names.length <= 8 ? { names, items } : undefined;
  });
  const entries = $derived(value !== null && typeof value === 'object' ? Object.entries(value as Record<string, unknown>) : undefined);
</script>

{#if words !== undefined}
  {words}
{:else if rows}
  <div class="overflow-x-auto">
    <table class="text-sm">
      <thead
        ><tr class="border-b border-line text-left text-faint"
          >{#each rows.names as name (name)}<th class="pr-3 font-normal">{name}</th>{/each}</tr
        ></thead
      >
      <tbody>
        {#each rows.items as item, index (index)}
          <tr class="border-b border-line align-top last:border-0">
            {#each rows.names as name (name)}<td class={['pr-3', typeof item[name] === 'number' && 'text-right']}
                ><Self value={item[name]} /></td
              >{/each}
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
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
{:else}<span class="whitespace-pre-wrap">{said(value)}</span>{/if}
