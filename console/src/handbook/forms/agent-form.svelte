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
</script>

<div class="space-y-4">
  <div class="grid gap-4 sm:grid-cols-2">
    <Field label="Title" value={file.text('title')} onChange={set('title')} />
    <Field label="Desk" value={file.text('desk')} options={outline?.desks ?? []} onChange={set('desk')} />
    <Field label="Model" value={file.text('model')} hint="One of those in handbook.yaml." onChange={set('model')} />
    <Field
      label="Works"
      value={file.text('works') || 'alone'}
      options={['alone', 'supervised']}
      hint="Supervised: people are asked about every call that changes something."
      onChange={set('works')}
    />
  </div>
  <h3 class="font-semibold">The brief</h3>
  <Field
    label="Job"
    rows={3}
    value={file.text('brief', 'job')}
    hint="What it is there for, in a sentence or two."
    onChange={set('brief', 'job')}
  />
  <Field
    label="Audience"
    rows={2}
    value={file.text('brief', 'audience')}
    hint="Who reads what it writes."
    onChange={set('brief', 'audience')}
  />
  <LinesField
    label="Rules"
    rows={5}
    values={file.list('brief', 'rules')}
    hint="Do and don’t, one to a line."
    onChange={set('brief', 'rules')}
  />
  <LinesField
    label="Examples"
    rows={4}
    values={file.list('brief', 'examples')}
    hint="Good work, one to a line. Without one, a model adds things nobody asked for."
    onChange={set('brief', 'examples')}
  />
</div>
