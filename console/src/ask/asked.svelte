<script lang="ts">
  import type { Kind } from '../api/client';

  /** What somebody asks: in a few words, the fields of the kind, in their own words; each with what is wrong with it beside it. */
  let {
    fields,
    subject = $bindable(),
    text = $bindable(),
    values = $bindable(),
    wrong,
  }: {
    fields: Kind['fields'];
    subject: string;
    text: string;
    values: Record<string, string>;
    wrong: Record<string, string>;
  } = $props();
</script>

<div>
  <label class="label" for="subject">In a few words</label>
  <input id="subject" class="field" bind:value={subject} maxlength="200" aria-invalid={!!wrong.subject} aria-describedby="about-subject" />
  <p id="about-subject" class="mt-1 text-sm font-semibold text-signal">{wrong.subject ?? ''}</p>
</div>
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
<div>
  <label class="label" for="words">What happened, in your own words</label>
  <textarea id="words" class="field" rows="4" bind:value={text} maxlength="20000"></textarea>
</div>
