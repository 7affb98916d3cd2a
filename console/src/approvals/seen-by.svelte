<script lang="ts">
  import { api, type Seen } from '../api/client';
  import When from '../parts/when.svelte';

  /** Who was shown the sheet, and what they saw then. */
  let { id, picture = '' }: { id: string; picture?: string } = $props();

  let seen = $state<Seen[]>();
  const load = async (event: Event & { currentTarget: HTMLDetailsElement }): Promise<void> => {
    if (event.currentTarget.open) {
      seen = await api.whoSaw(id);
    }
  };
</script>

<details class="text-sm" ontoggle={load}>
  <summary class="text-faint">Who saw this, and what they were shown</summary>
  <ul class="mt-2 space-y-1">
    {#each seen ?? [] as one (one.person.id + one.picture)}
      <li>
        {one.person.name}, <When time={one.at} />, by {one.via.replaceAll('-', ' ')}
        {#if one.picture !== picture}<a href="/approvals/{id}?seen={one.picture}">as they saw it</a>{:else}<span class="text-faint"
            >(this)</span
          >{/if}
      </li>
    {:else}{#if seen}<li class="text-faint">Nobody yet.</li>{/if}{/each}
  </ul>
</details>
