<script lang="ts">
  import type { Assessment } from '../../api/client';
  import Field from './field.svelte';
  import LinesField from './lines-field.svelte';
  import type { YamlFile } from './yaml-file';

  let { file, outline, onChange }: { file: YamlFile; outline?: Assessment['outline']; onChange: (text: string) => void } = $props();

  let added = $state('');
  const set =
    (...path: (string | number)[]) =>
    (value: unknown) =>
      onChange(file.with(path, value));

  const number =
    (...path: string[]) =>
    (value: string) =>
      onChange(file.with(path, value && !Number.isNaN(Number(value)) ? Number(value) : value || undefined));

  function add(): void {
    const name = added
      .trim()
      .toLowerCase()
      .replace(/[^a-z0-9_]+/g, '_');
    if (name && !file.keys('fields').includes(name)) {
      onChange(file.with(['fields', name], { title: added.trim() }));
      added = '';
    }
  }
</script>

<div class="space-y-4">
  <div class="grid gap-4 sm:grid-cols-2">
    <Field label="Title" value={file.text('title')} onChange={set('title')} />
    <Field label="Desk" value={file.text('desk')} options={outline?.desks ?? []} onChange={set('desk')} />
  </div>
  <LinesField
    label="Open to, beside the desk"
    values={file.list('open-to')}
    hint="public (also who can’t sign in), everybody, staff, groups or desks; one to a line. Nobody unless told."
    rows={2}
    onChange={set('open-to')}
  />
  <Field
    label="Late after"
    value={file.text('resolve-within')}
    hint="How long a case may be open, as in ISO 8601: PT8H for eight hours, P2D for two days. Never late unless told."
    onChange={set('resolve-within')}
  />
  <div class="grid gap-4 sm:grid-cols-3">
    <Field label="Most files" value={file.text('files', 'at-most')} hint="20 unless told." onChange={number('files', 'at-most')} />
    <Field
      label="MB each"
      value={file.text('files', 'megabytes')}
      hint="1 unless told, 5 at most."
      onChange={number('files', 'megabytes')}
    />
    <LinesField
      label="Types of files"
      values={file.list('files', 'types')}
      hint="Such as application/pdf or image/*; any unless told."
      rows={2}
      onChange={set('files', 'types')}
    />
  </div>
  <h3 class="font-semibold">Fields</h3>
  {#each file.keys('fields') as name (name)}
    <fieldset class="sheet space-y-3 p-3">
      <legend class="px-1 font-mono text-sm">{name}</legend>
      <div class="grid gap-3 sm:grid-cols-2">
        <Field label="Title" value={file.text('fields', name, 'title')} onChange={set('fields', name, 'title')} />
        <Field
          label="Type"
          value={file.text('fields', name, 'type') || 'text'}
          options={['text', 'number', 'yes/no', 'date']}
          onChange={set('fields', name, 'type')}
        />
        <Field label="Hint" value={file.text('fields', name, 'hint')} onChange={set('fields', name, 'hint')} />
        <Field
          label="Pattern"
          value={file.text('fields', name, 'pattern')}
          hint="A regular expression, for texts."
          onChange={set('fields', name, 'pattern')}
        />
      </div>
      <p class="flex gap-5">
        <label
          ><input
            type="checkbox"
            checked={file.yes('fields', name, 'required')}
            onchange={(event) => set('fields', name, 'required')(event.currentTarget.checked || undefined)}
          /> required</label
        >
        <button type="button" class="cursor-pointer text-accent underline" onclick={() => onChange(file.with(['fields', name], undefined))}
          >take this field out</button
        >
      </p>
    </fieldset>
  {/each}
  <div class="flex items-end gap-3">
    <Field label="A new field" value={added} onChange={(value) => (added = value)} />
    <button type="button" class="button" onclick={add}>Add</button>
  </div>
</div>
