<script lang="ts">
  import { untrack } from 'svelte';
  import { PARTS, type Narrowing, type PartName } from './narrowing.svelte';

  /** What a list is narrowed to: the parts that are asked for most stand `always` there, the others open on demand. */
  let { narrowing, always = [] }: { narrowing: Narrowing; always?: PartName[] } = $props();

  const others = (Object.keys(PARTS) as PartName[]).filter((name) => !untrack(() => always).includes(name));
  const open = untrack(() => others.some((name) => narrowing.parts[name])); // as it begins; whoever empties a field goes on writing
  const isDay = (name: PartName) => name === 'since' || name === 'until';
</script>

{#snippet field(name: PartName)}
  <input class="field mt-0.5 w-full text-ink" type={isDay(name) ? 'date' : 'text'} bind:value={narrowing.parts[name]} />
{/snippet}

{#each always as name (name)}
  <label class="flex items-baseline gap-2 text-sm text-faint">{PARTS[name]} <span class="w-28 sm:w-36">{@render field(name)}</span></label>
{/each}
<details class={['text-sm', !always.length && 'mb-4']} {open}>
  <summary class="cursor-pointer text-faint">{always.length ? 'narrow further' : narrowing.isSet ? 'Narrowed' : 'Narrow'}</summary>
  <div class="mt-2 grid grid-cols-2 gap-3 sm:grid-cols-4">
    {#each others as name (name)}
      <label class="block text-faint">{PARTS[name]} {@render field(name)}</label>
    {/each}
  </div>
</details>
