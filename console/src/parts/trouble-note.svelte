<script lang="ts">
  import type { Trouble } from '../api/client';

  let { trouble }: { trouble: Trouble } = $props();
</script>

<div role="alert" class="sheet border-l-4 border-l-ink p-3">
  <p class="font-semibold">{trouble.title}</p>
  {#if trouble.errors.length}
    <ul class="list-disc pl-5">
      {#each trouble.errors as error (error)}<li>{error}</li>{/each}
    </ul>
  {:else if trouble.detail}
    <p>{trouble.detail}</p>
  {/if}
</div>
