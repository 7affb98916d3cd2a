<script lang="ts">
  import type { MyCase } from '../api/client';

  /** What was filled in. */
  let { subject, text, fields }: { subject: string; text: string; fields: MyCase['fields'] } = $props();

  const words = (value: unknown): string => (value === true ? 'yes' : value === false ? 'no' : String(value));
</script>

<p class="font-semibold">{subject}</p>
{#if text}<p class="whitespace-pre-wrap">{text}</p>{/if}
{#if fields.length}
  <dl class="grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 gap-y-1">
    {#each fields as field (field.title)}
      <dt class="text-faint">{field.title}</dt>
      <dd>{words(field.value)}</dd>
    {/each}
  </dl>
{/if}
