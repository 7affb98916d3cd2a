<script lang="ts">
  import type { ApiError } from '../api/client';

  let { failure }: { failure: ApiError } = $props();
</script>

<div role="alert" class="sheet border-l-4 border-l-ink p-3">
  <p class="font-semibold">{failure.title}</p>
  {#if failure.errors.length}
    <ul class="list-disc pl-5">
      {#each failure.errors as error (error)}<li>{error}</li>{/each}
    </ul>
  {:else if failure.detail}
    <p>{failure.detail}</p>
  {/if}
</div>
