<script lang="ts">
  import type { Assessment } from '../../api/client';
  import Field from './field.svelte';
  import LinesField from './lines-field.svelte';
  import type { YamlFile } from './yaml-file';

  let { file, outline, onChange }: { file: YamlFile; outline?: Assessment['outline']; onChange: (text: string) => void } = $props();

  const set =
    (...path: (string | number)[]) =>
    (value: unknown) =>
      onChange(file.with(path, value));
  const indices = (list: string) => Array.from({ length: file.size(list) }, (_, index) => index);
  const tools = $derived('Known: ' + Object.keys(outline?.tools ?? {}).join(', ') + '. A * stands for anything.');
</script>

{#snippet grant(list: 'grants' | 'never', index: number)}
  <fieldset class="sheet space-y-3 p-3">
    <legend class="px-1 text-sm">{list === 'never' ? 'Never' : `Grant ${index + 1}`}</legend>
    <div class="grid gap-3 sm:grid-cols-2">
      <Field label="Name" value={file.text(list, index, 'name')} onChange={set(list, index, 'name')} />
      {#if list === 'grants'}
        <Field
          label="Verdict"
          value={file.text(list, index, 'verdict')}
          options={['allow', 'ask', 'deny']}
          onChange={set(list, index, 'verdict')}
        />
      {/if}
    </div>
    <LinesField label="Tools" rows={2} values={file.list(list, index, 'tools')} hint={tools} onChange={set(list, index, 'tools')} />
    <Field
      label="Only when"
      rows={2}
      value={file.text(list, index, 'when')}
      hint="A condition, such as args.amount <= 120.0; empty for always."
      onChange={(value) => set(list, index, 'when')(value.trim())}
    />
    {#if list === 'grants' && file.text(list, index, 'verdict') === 'ask'}
      <Field
        label="Who is asked"
        value={file.text(list, index, 'of')}
        options={['', ...(outline?.groups ?? [])]}
        onChange={set(list, index, 'of')}
      />
    {/if}
    <button type="button" class="cursor-pointer text-accent underline" onclick={() => onChange(file.with([list, index], undefined))}
      >take this out</button
    >
  </fieldset>
{/snippet}

<div class="space-y-4">
  <Field label="Title" value={file.text('title')} onChange={set('title')} />
  <div class="grid gap-4 sm:grid-cols-2">
    <LinesField label="Binds these agents" rows={2} values={file.list('for')} onChange={set('for')} />
    <Field
      label="Who is asked when a grant names nobody"
      value={file.text('ask')}
      options={['', ...(outline?.groups ?? [])]}
      onChange={set('ask')}
    />
  </div>
  <p class="text-sm text-faint">
    What is never allowed comes first. Then the first grant whose tools and condition fit gives the verdict; where none fits, the call is
    refused.
  </p>
  {#each indices('never') as index (index)}{@render grant('never', index)}{/each}
  {#each indices('grants') as index (index)}{@render grant('grants', index)}{/each}
  <p class="flex gap-4">
    <button
      type="button"
      class="button"
      onclick={() => onChange(file.added(['grants'], { name: 'a new grant', tools: ['case.reply'], verdict: 'ask' }))}>Add a grant</button
    >
    <button type="button" class="button" onclick={() => onChange(file.added(['never'], { name: 'never this', tools: ['case.reply'] }))}
      >Add a never</button
    >
  </p>
</div>
