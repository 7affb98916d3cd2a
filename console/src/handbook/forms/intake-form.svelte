<script lang="ts">
  import type { Assessment } from '../../api/client';
  import Field from './field.svelte';
  import type { YamlFile } from './yaml-file';

  let { file, outline, onChange }: { file: YamlFile; outline?: Assessment['outline']; onChange: (text: string) => void } = $props();

  type Entries = 'message' | 'fields' | 'relations';
  let added = $state<Record<Entries, string>>({ message: '', fields: '', relations: '' });
  const set =
    (...path: (string | number)[]) =>
    (value: unknown) =>
      onChange(file.with(path, value));

  const from = $derived(file.text('from') || 'webhook');
  const byMail = $derived(from === 'mail');
  const bySchedule = $derived(from === 'schedule');
  const byLines = $derived(from === 'lines');

  function add(map: Entries, value: string): void {
    const name = added[map]
      .trim()
      .toLowerCase()
      .replace(/[^a-z0-9_]+/g, '_');
    if (name && !file.keys(map).includes(name)) {
      onChange(file.with([map, name], value));
      added[map] = '';
    }
  }
</script>

{#snippet entries(map: Entries, label: string, beginning: string)}
  {#each file.keys(map) as name (name)}
    <div class="flex items-end gap-3">
      <div class="grow"><Field label={name} value={file.text(map, name)} onChange={set(map, name)} /></div>
      <button
        type="button"
        class="cursor-pointer pb-2 text-accent underline"
        aria-label="take {name} out"
        onclick={() => onChange(file.with([map, name], undefined))}>take out</button
      >
    </div>
  {/each}
  <div class="flex items-end gap-3">
    <Field {label} value={added[map]} onChange={(value) => (added[map] = value)} />
    <button type="button" class="button" onclick={() => add(map, beginning)}>Add</button>
  </div>
{/snippet}

<div class="space-y-4">
  <div class="grid gap-4 sm:grid-cols-2">
    <Field label="Title" value={file.text('title')} onChange={set('title')} />
    <Field label="Becomes a case of kind" value={file.text('kind')} options={outline?.kinds ?? []} onChange={set('kind')} />
  </div>
  {#if byMail}
    <h3 class="font-semibold">Where the mails are</h3>
    <div class="grid gap-4 sm:grid-cols-3">
      <Field label="Connection" value={file.text('connection')} onChange={set('connection')} />
      <Field label="Folder" value={file.text('folder')} hint="Empty for INBOX." onChange={set('folder')} />
      <Field
        label="Moved to, once taken in"
        value={file.text('taken')}
        hint="A folder that is there; empty: they are flagged."
        onChange={set('taken')}
      />
    </div>
  {:else if bySchedule}
    <h3 class="font-semibold">When</h3>
    <Field
      label="Minute, hour, day of the month, month, day of the week"
      value={file.text('cron')}
      hint="By the clock on the wall: 30 6 * * 1-5 is half past six from Monday to Friday."
      onChange={set('cron')}
    />
  {:else}
    <h3 class="font-semibold">{byLines ? 'Where the lines come from' : 'Who sends them'}</h3>
    <Field
      label={byLines ? 'Of the connection' : 'Signed by the connection'}
      value={file.text('connection')}
      hint={byLines
        ? 'One to hook:signed, whose system posts them; or one to file:, which is followed. Empty: somebody’s token brings them.'
        : 'One to hook:signed. Empty: somebody’s token brings them.'}
      onChange={set('connection')}
    />
    {#if byLines}
      <Field
        label="What is read of a line of text"
        value={file.text('pattern')}
        hint="A regular expression (RE2) with named groups, such as ERROR (?P<kiosk>[a-z-]+). Empty: each line is JSON."
        onChange={set('pattern')}
      />
    {/if}
    {#if !byLines || !file.text('pattern')}
      <h3 class="font-semibold">What a message holds</h3>
      <p class="text-sm text-faint">
        Whatever else comes with it is left out. Write text, number, yes/no, date, one of [a, b] or list of …
      </p>
      {@render entries('message', 'Another part of the message', 'text')}
    {/if}
  {/if}
  <h3 class="font-semibold">Which messages count</h3>
  <Field
    label="Only when"
    value={file.text('when')}
    hint="A condition, such as message.event == “lost”; empty for all."
    onChange={set('when')}
  />
  {#if from === 'webhook'}
    <Field
      label="The same message when this is the same"
      value={file.text('once-per')}
      hint="Such as $&#123;message.id&#125;; a repeated message then opens nothing new."
      onChange={set('once-per')}
    />
  {/if}
  <h3 class="font-semibold">Which case it belongs to</h3>
  {#if byMail}
    <Field
      label="A mail in no thread of ours becomes"
      value={file.text('belongs-to') || 'new-case'}
      options={['new-case', 'newest-open']}
      hint="A case of its own, or part of the newest open one of its sender, if it is proven who that is."
      onChange={(value) => onChange(file.with(['belongs-to'], value === 'new-case' ? undefined : value))}
    />
  {:else}
    <Field
      label="An open case of the kind of which this holds"
      value={file.text('belongs-to')}
      hint="Such as case.fields.kiosk == message.kiosk; empty: each message opens a case of its own."
      onChange={set('belongs-to')}
    />
    {#if !bySchedule}
      <Field
        label="Only counted, when it says the same within"
        value={file.text('count-within')}
        hint="Such as PT30M for half an hour; empty: each becomes a note."
        onChange={set('count-within')}
      />
    {/if}
  {/if}
  <h3 class="font-semibold">The case</h3>
  <Field
    label="For whom"
    value={file.text('requester')}
    hint={byMail
      ? 'A person’s id, account or address. Empty for the sender.'
      : 'A person’s id, account or address: a claim, unless an admin believes the system that signs. Empty for whose token brings it.'}
    onChange={set('requester')}
  />
  <Field label="Subject" value={file.text('subject')} onChange={set('subject')} />
  <Field label="Text" rows={3} value={file.text('text')} onChange={set('text')} />
  {@render entries('fields', 'Another field of the kind', '$' + '{message.id}')}
  {#if !byMail}
    <h3 class="font-semibold">What it is related to</h3>
    {@render entries('relations', 'Another thing it is related to', '$' + '{message.id}')}
  {/if}
</div>
