<script lang="ts">
  import { now } from './now.svelte';
  import { exact, left } from './when';

  let { due }: { due: string } = $props();
</script>

<time class="shrink-0 text-sm text-signal" datetime={due} title={exact(due)}>{left(due, now.ms)}</time>
