<script lang="ts">
  import type { Assessment } from '../../api/client';
  import { examples, rules, withExample, withRules } from './brief';
  import ExampleFields from './example-fields.svelte';
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
      options={['alone', 'supervised', 'shadow']}
      hint="Supervised: people are asked about every call that changes something. Shadow: it proposes, and nothing leaves."
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
    label="Always"
    rows={4}
    values={rules(file, 'always')}
    hint="What it always does, one to a line."
    onChange={(values) => onChange(withRules(file, 'always', values))}
  />
  <LinesField
    label="Never"
    rows={2}
    values={rules(file, 'never')}
    hint="What it never does, one to a line."
    onChange={(values) => onChange(withRules(file, 'never', values))}
  />
  <LinesField
    label="How it writes"
    rows={2}
    values={rules(file, 'writing')}
    hint="Greeting, length, words to use or leave out; one to a line."
    onChange={(values) => onChange(withRules(file, 'writing', values))}
  />
  <h3 class="font-semibold">Examples</h3>
  <p class="text-sm text-faint">Without one, a model adds things nobody asked for. A bad one says why it is bad.</p>
  {#each examples(file) as example, at (at)}
    <ExampleFields
      {example}
      number={at + 1}
      onChange={(changed) => onChange(changed ? withExample(file, at, changed) : file.with(['brief', 'examples', at], undefined))}
    />
  {/each}
  <button
    type="button"
    class="button"
    onclick={() => onChange(withExample(file, file.size('brief', 'examples'), { asked: '', output: 'Good day …' }))}>Add an example</button
  >
</div>
