<script lang="ts">
  import { untrack } from 'svelte';
  import { PARTS, type Narrowing, type PartName } from './narrowing.svelte';

  let { narrowing, parts = Object.keys(PARTS) as PartName[] }: { narrowing: Narrowing; parts?: PartName[] } = $props();

  const open = untrack(() => narrowing.isSet); // as it begins; whoever empties a field goes on writing
  const isDay = (name: PartName) => name === 'since' || name === 'until';
</script>

<details class="mb-4 text-sm" {open}>
  <summary class="cursor-pointer text-faint">Narrow{narrowing.isSet ? 'ed' : ''}</summary>
  <div class="mt-2 grid grid-cols-2 gap-3 sm:grid-cols-4">
    {#each parts as name (name)}
      <label class="block text-faint">
        {PARTS[name]}
        <input class="field mt-0.5 w-full text-ink" type={isDay(name) ? 'date' : 'text'} bind:value={narrowing.parts[name]} />
      </label>
    {/each}
  </div>
</details>
