<script lang="ts">
  import type { Kind } from '../api/client';

  /** The fields of a kind, each with what is wrong with it beside it. */
  let {
    fields,
    values = $bindable(),
    wrong,
  }: { fields: Kind['fields']; values: Record<string, string>; wrong: Record<string, string> } = $props();
</script>

{#each fields as field (field.name)}
  {@const fault = wrong[field.name]}
  <div>
    <label class="label" for="field-{field.name}"
      >{field.title}{#if !field.required}<span class="font-normal text-faint"> (if you know)</span>{/if}</label
    >
    {#if field.type === 'yes/no'}
      <select
        id="field-{field.name}"
        class="field"
        bind:value={values[field.name]}
        aria-invalid={!!fault}
        aria-describedby="about-{field.name}"><option value="">choose</option><option>yes</option><option>no</option></select
      >
    {:else}
      <input
        id="field-{field.name}"
        class="field"
        type={field.type === 'number' ? 'number' : field.type === 'date' ? 'date' : 'text'}
        step="any"
        bind:value={() => values[field.name] ?? '', (value) => (values[field.name] = String(value ?? ''))}
        aria-invalid={!!fault}
        aria-describedby="about-{field.name}"
      />
    {/if}
    <p id="about-{field.name}" class={['mt-1 text-sm', fault ? 'font-semibold text-signal' : 'text-faint']}>{fault ?? field.hint}</p>
  </div>
{/each}
