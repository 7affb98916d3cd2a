<script lang="ts">
  import { now } from './now.svelte';
  import { exact, said } from './when';

  let { time }: { time: string } = $props();
</script>

<time datetime={time} title={exact(time)}>{said(time, now.ms)}</time>
