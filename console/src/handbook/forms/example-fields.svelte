<script lang="ts">
  import type { Example } from './brief';
  import Field from './field.svelte';

  /** One example of work: what was asked, what is written, and whether that is good. */
  let { example, number, onChange }: { example: Example; number: number; onChange: (example: Example | undefined) => void } = $props();

  const sort = (word: string): void => onChange({ ...example, why: word === 'bad' ? (example.why ?? '') : undefined });
</script>

<fieldset class="sheet space-y-3 p-3">
  <legend class="px-1 text-sm text-faint">Example {number}</legend>
  <div class="grid gap-3 sm:grid-cols-[minmax(0,1fr)_7rem]">
    <Field label="Asked" value={example.asked} onChange={(asked) => onChange({ ...example, asked })} />
    <Field label="It is" value={example.why === undefined ? 'good' : 'bad'} options={['good', 'bad']} onChange={sort} />
  </div>
  <Field label="Written" rows={2} value={example.output} onChange={(output) => onChange({ ...example, output })} />
  {#if example.why !== undefined}
    <Field label="Why it is bad" value={example.why} onChange={(why) => onChange({ ...example, why })} />
  {/if}
  <button type="button" class="text-sm text-accent underline" onclick={() => onChange(undefined)}>take it out</button>
</fieldset>
