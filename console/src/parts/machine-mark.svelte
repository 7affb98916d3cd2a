<script lang="ts">
  /** The one mark of everything a machine wrote. */
  let { by = '' }: { by?: string } = $props();
</script>

<span class="inline-flex items-baseline gap-1 border-b border-dotted border-faint text-sm text-faint" title={by || undefined}>
  <svg viewBox="0 0 12 12" class="h-[0.7em] w-[0.7em] fill-current" aria-hidden="true"
    ><path d="M0 0h3v3H0zM4.5 4.5h3v3h-3zM9 9h3v3H9z" /></svg
  >
  written by a model{by ? `: ${by}` : ''}
</span>
