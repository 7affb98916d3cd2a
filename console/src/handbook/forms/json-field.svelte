<script lang="ts">
  /** A value of any shape, written as JSON; it is taken once it can be read. */
  let { label, value, rows = 3, onChange }: { label: string; value: unknown; rows?: number; onChange: (value: unknown) => void } = $props();

  const id = $props.id();
  let wrong = $state(false);

  function take(text: string): void {
    try {
      onChange(text.trim() ? JSON.parse(text) : undefined);
      wrong = false;
    } catch {
      wrong = true;
    }
  }
</script>

<div>
  <label class="label" for={id}>{label}</label>
  <textarea
    {id}
    class="field font-mono text-sm"
    {rows}
    value={value === undefined ? '' : JSON.stringify(value, null, 1)}
    onchange={(event) => take(event.currentTarget.value)}></textarea>
  {#if wrong}<p role="alert" class="mt-0.5 text-sm text-signal">That isn’t JSON, so it isn’t taken yet.</p>{/if}
</div>
