<script lang="ts">
  import type { Snippet } from 'svelte';

  /** A page for somebody who can’t sign in: whose it is, what it is, and nothing around it. */
  let { house, title, children }: { house: string; title: string; children: Snippet } = $props();
</script>

<svelte:head><title>{title} · {house}</title></svelte:head>

<p class="mb-1 text-faint">{house}</p>
<h1 class="mb-4">{title}</h1>
{@render children()}
