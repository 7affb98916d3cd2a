<script lang="ts">
  import Field from './field.svelte';

  /** A list of texts, one to a line. */
  let {
    label,
    values,
    hint = 'One to a line.',
    rows = 3,
    onChange,
  }: { label: string; values: string[]; hint?: string; rows?: number; onChange: (values: string[]) => void } = $props();
</script>

<Field
  {label}
  {hint}
  {rows}
  value={values.join('\n')}
  onChange={(text) =>
    onChange(
      text
        .split('\n')
        .map((line) => line.trim())
        .filter(Boolean),
    )}
/>
