<script lang="ts">
  import type { Assessment } from '../../api/client';
  import { SAYS, UNASKED } from '../completion';
  import Field from './field.svelte';
  import JsonField from './json-field.svelte';
  import LinesField from './lines-field.svelte';
  import type { YamlFile } from './yaml-file';

  let { file, outline, onChange }: { file: YamlFile; outline?: Assessment['outline']; onChange: (text: string) => void } = $props();

  const SORTS = {
    tool: 'A tool answers',
    model: 'A model answers',
    people: 'People answer',
    comes: 'Something comes',
    unasked: 'Somebody acts unasked',
  } as const;
  type Sort = keyof typeof SORTS;
  const FRESH = {
    tool: { tool: '', gives: {} },
    model: { model: '', gives: {} },
    people: { people: '', by: '' },
    comes: { comes: 'reply', text: '' },
    unasked: { unasked: 'stop', at: '', by: '', says: '' },
  } as const;
  const GIVE = ['happened', 'skip'];
  const STATES = ['resolved', 'with-people', 'waiting', 'closed', 'open'];

  const set =
    (...path: (string | number)[]) =>
    (value: unknown) =>
      onChange(file.with(path, value));
  const answers = $derived(Array.from({ length: file.size('answers') }, (_, index) => index));

  function sort(index: number): Sort {
    return (Object.keys(SORTS) as Sort[]).find((one) => file.keys('answers', index).includes(one)) ?? 'tool';
  }
</script>

<div class="space-y-4">
  <Field label="Title" value={file.text('title')} hint="What it shows, in a sentence." onChange={set('title')} />
  <h3 class="font-semibold">The case</h3>
  <div class="grid gap-4 sm:grid-cols-2">
    <Field label="Kind" value={file.text('case', 'kind')} options={outline?.kinds ?? []} onChange={set('case', 'kind')} />
    <Field label="Subject" value={file.text('case', 'subject')} onChange={set('case', 'subject')} />
  </div>
  <Field label="What is asked" rows={3} value={file.text('case', 'text')} onChange={set('case', 'text')} />
  <JsonField label="Fields, as JSON" value={file.value('case', 'fields')} onChange={set('case', 'fields')} />
  <div class="grid gap-4 sm:grid-cols-2">
    <Field label="Account of who asks" value={file.text('case', 'requester', 'account')} onChange={set('case', 'requester', 'account')} />
    <Field
      label="How sure it is that it is they"
      value={file.text('case', 'requester', 'proof') || 'signed-in'}
      options={['signed-in', 'verified', 'claimed']}
      onChange={set('case', 'requester', 'proof')}
    />
  </div>
  <h3 class="font-semibold">What the world answers, in order</h3>
  {#each answers as index (index)}
    {@const is = sort(index)}
    <fieldset class="sheet space-y-3 p-3">
      <legend class="px-1 text-sm">{index + 1}. {SORTS[is]}</legend>
      {#if is === 'tool'}
        <Field
          label="Tool"
          value={file.text('answers', index, 'tool')}
          options={Object.keys(outline?.tools ?? {})}
          onChange={set('answers', index, 'tool')}
        />
        <JsonField
          label="When called with, as JSON"
          rows={2}
          value={file.value('answers', index, 'with')}
          onChange={set('answers', index, 'with')}
        />
      {:else if is === 'model'}
        <Field label="At the step" value={file.text('answers', index, 'model')} onChange={set('answers', index, 'model')} />
      {:else if is === 'people'}
        <div class="grid gap-3 sm:grid-cols-3">
          <Field label="At the step" value={file.text('answers', index, 'people')} onChange={set('answers', index, 'people')} />
          <Field
            label="They"
            value={file.text('answers', index, 'say') || 'approve'}
            options={SAYS}
            onChange={set('answers', index, 'say')}
          />
          <Field label="Who" value={file.text('answers', index, 'by')} onChange={set('answers', index, 'by')} />
        </div>
        <Field label="Why" value={file.text('answers', index, 'reason')} onChange={set('answers', index, 'reason')} />
      {:else if is === 'unasked'}
        <div class="grid gap-3 sm:grid-cols-2">
          <Field
            label="They"
            value={file.text('answers', index, 'unasked')}
            options={UNASKED}
            onChange={set('answers', index, 'unasked')}
          />
          <Field label="At the step" value={file.text('answers', index, 'at')} onChange={set('answers', index, 'at')} />
          <Field label="Who" value={file.text('answers', index, 'by')} onChange={set('answers', index, 'by')} />
          <Field
            label="After"
            value={file.text('answers', index, 'after')}
            hint="How long from the opening of the case, such as PT2H."
            onChange={set('answers', index, 'after')}
          />
        </div>
        <Field label="What they say" value={file.text('answers', index, 'says')} onChange={set('answers', index, 'says')} />
      {:else}
        <div class="grid gap-3 sm:grid-cols-2">
          <Field
            label="What comes"
            value={file.text('answers', index, 'comes')}
            options={['reply', 'document', 'event', 'case']}
            onChange={set('answers', index, 'comes')}
          />
          <Field label="Named" value={file.text('answers', index, 'named')} onChange={set('answers', index, 'named')} />
          <Field
            label="After"
            value={file.text('answers', index, 'after')}
            hint={file.yes('answers', index, 'unawaited')
              ? 'How long from the opening of the case, such as PT2H.'
              : 'How long the case has waited for it, such as PT2H.'}
            onChange={set('answers', index, 'after')}
          />
          <label class="flex items-center gap-2 self-center text-sm">
            <input
              type="checkbox"
              checked={file.yes('answers', index, 'unawaited')}
              onchange={(event) => set('answers', index, 'unawaited')(event.currentTarget.checked || undefined)}
            />
            Nobody waits for it
          </label>
        </div>
        <Field label="What it says" rows={2} value={file.text('answers', index, 'text')} onChange={set('answers', index, 'text')} />
      {/if}
      {#if is === 'tool' || is === 'model' || GIVE.includes(file.text('answers', index, 'say'))}
        <JsonField
          label="It gives, as JSON"
          rows={4}
          value={file.value('answers', index, 'gives')}
          onChange={set('answers', index, 'gives')}
        />
      {/if}
      {#if is === 'tool' || is === 'model'}
        <Field label="Or fails with" value={file.text('answers', index, 'fails')} onChange={set('answers', index, 'fails')} />
      {/if}
      <button type="button" class="cursor-pointer text-sm text-accent underline" onclick={() => set('answers', index)(undefined)}>
        take it out
      </button>
    </fieldset>
  {/each}
  <div class="flex flex-wrap gap-3 text-sm">
    {#each Object.entries(SORTS) as [one, says] (one)}
      <button
        type="button"
        class="cursor-pointer text-accent underline"
        onclick={() => onChange(file.added(['answers'], FRESH[one as Sort]))}
      >
        + {says}
      </button>
    {/each}
  </div>
  <h3 class="font-semibold">What must come of it</h3>
  <Field label="The case ends" value={file.text('must', 'end')} options={STATES} onChange={set('must', 'end')} />
  <LinesField label="Steps it passes, in order" values={file.list('must', 'steps')} onChange={set('must', 'steps')} />
  <div class="grid gap-4 sm:grid-cols-2">
    <LinesField label="Tools never called" rows={2} values={file.list('must', 'never')} onChange={set('must', 'never')} />
    <LinesField label="Who is asked" rows={2} values={file.list('must', 'asked')} onChange={set('must', 'asked')} />
  </div>
  <LinesField label="Words that somebody is told" rows={2} values={file.list('must', 'told')} onChange={set('must', 'told')} />
  <JsonField label="Calls that are made, as JSON" value={file.value('must', 'calls')} onChange={set('must', 'calls')} />
  <JsonField label="What the mandate says, by tool" rows={2} value={file.value('must', 'verdicts')} onChange={set('must', 'verdicts')} />
</div>
