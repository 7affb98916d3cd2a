<script lang="ts">
  /** One labelled value of a form. */
  let {
    label,
    value,
    hint = '',
    rows = 1,
    options,
    onChange,
  }: {
    label: string;
    value: string;
    hint?: string;
    rows?: number;
    options?: readonly string[];
    onChange: (value: string) => void;
  } = $props();

  const id = $props.id();
</script>

<div>
  <label class="label" for={id}>{label}</label>
  {#if options}
    <select {id} class="field" {value} onchange={(event) => onChange(event.currentTarget.value)}>
      {#each value && !options.includes(value) ? [value, ...options] : options as option (option)}<option>{option}</option>{/each}
    </select>
  {:else if rows > 1}
    <textarea {id} class="field" {rows} {value} onchange={(event) => onChange(event.currentTarget.value)}></textarea>
  {:else}<input {id} class="field" {value} onchange={(event) => onChange(event.currentTarget.value)} />{/if}
  {#if hint}<p class="mt-0.5 text-sm text-faint">{hint}</p>{/if}
</div>
