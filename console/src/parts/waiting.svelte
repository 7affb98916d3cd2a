<script lang="ts" generics="T">
  import type { Snippet } from 'svelte';
  import type { Loaded } from './loaded.svelte';
  import FailureNote from './failure-note.svelte';

  let { loaded, children }: { loaded: Loaded<T>; children: Snippet<[T]> } = $props();
</script>

{#if loaded.failure}<FailureNote failure={loaded.failure} />{/if}
{#if loaded.value !== undefined}
  {@render children(loaded.value)}
{:else if loaded.slow}
  <p class="text-faint" aria-live="polite">Fetching…</p>
{/if}
