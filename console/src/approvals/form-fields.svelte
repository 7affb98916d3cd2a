<script lang="ts">
  import type { Decision } from './decision.svelte';

  /** The form an approval asks for. */
  let { decision }: { decision: Decision } = $props();

  const fields = $derived(decision.sheet?.sheet.form?.fields ?? []);

  type FormField = (typeof fields)[number];

  function choices({ type, options, titles }: FormField): { value: string; title: string }[] {
    return type === 'yes/no'
      ? ['yes', 'no'].map((value) => ({ value, title: value }))
      : options.map((value, at) => ({ value, title: titles?.[at] ?? value }));
  }
</script>

<section class="sheet grid gap-3 p-4 sm:grid-cols-2" aria-label="To fill in">
  {#each fields as field (field.name)}
    <div>
      <label class="label" for="form-{field.name}">{field.name.replaceAll('_', ' ')}</label>
      {#if choices(field).length}
        <select id="form-{field.name}" class="field" bind:value={decision.form[field.name]}>
          <option value={undefined}>choose…</option>
          {#each choices(field) as { value, title } (value)}<option {value}>{title}</option>{/each}
        </select>
      {:else}
        <input
          id="form-{field.name}"
          class="field"
          type={field.type === 'date' ? 'date' : 'text'}
          inputmode={field.type.endsWith('number') ? 'decimal' : undefined}
          bind:value={decision.form[field.name]}
        />
      {/if}
    </div>
  {/each}
</section>
