<script lang="ts">
  import type { Assessment } from '../../api/client';
  import Field from './field.svelte';
  import LinesField from './lines-field.svelte';
  import type { YamlFile } from './yaml-file';

  let { file, onChange }: { file: YamlFile; outline?: Assessment['outline']; onChange: (text: string) => void } = $props();

  /** What carries a tool out when it is no operation of an API; such tools are bound in the text. */
  const OTHERWISE = ['directory', 'query', 'dialogue', 'arguments', 'remote', 'page'];

  function isOperation(name: string): boolean {
    return !file.keys('tools', name).some((key) => OTHERWISE.includes(key));
  }

  const set =
    (...path: (string | number)[]) =>
    (value: unknown) =>
      onChange(file.with(path, value));
</script>

<div class="space-y-4">
  <div class="grid gap-4 sm:grid-cols-2">
    <Field label="Connection" value={file.text('connection')} onChange={set('connection')} />
    {#if file.keys('tools').some(isOperation)}
      <Field
        label="Description of the API"
        value={file.text('openapi')}
        hint="An OpenAPI file beside this one."
        onChange={set('openapi')}
      />
    {/if}
  </div>
  {#each file.keys('tools') as name (name)}
    <fieldset class="sheet space-y-3 p-3">
      <legend class="px-1 font-mono text-sm">{name}</legend>
      <Field
        label="Description"
        rows={2}
        value={file.text('tools', name, 'description')}
        hint="What it does, so that an agent chooses it for the right reason and no other."
        onChange={set('tools', name, 'description')}
      />
      <div class="grid gap-3 sm:grid-cols-2">
        {#if isOperation(name)}
          <Field label="Operation" value={file.text('tools', name, 'operation')} onChange={set('tools', name, 'operation')} />
        {/if}
        <Field
          label="Effect"
          value={file.text('tools', name, 'effect')}
          options={['read', 'write', 'once']}
          hint="write can be repeated with the same key; once must not."
          onChange={set('tools', name, 'effect')}
        />
        {#if file.text('tools', name, 'effect') !== 'read'}
          <Field
            label="Works"
            value={file.text('tools', name, 'works') || 'alone'}
            options={['alone', 'supervised', 'shadow']}
            hint="Whoever calls it. Supervised: people are asked. Shadow: its calls are proposed, and none leaves."
            onChange={set('tools', name, 'works')}
          />
        {/if}
        <LinesField
          label="Identifies a record"
          rows={2}
          values={file.list('tools', name, 'identifies')}
          hint="Inputs that say whose or which record is meant."
          onChange={set('tools', name, 'identifies')}
        />
        <LinesField
          label="Speaks to people"
          rows={2}
          values={file.list('tools', name, 'speaks')}
          hint="Inputs whose text reaches people outside."
          onChange={set('tools', name, 'speaks')}
        />
      </div>
      <label
        ><input
          type="checkbox"
          checked={file.yes('tools', name, 'personal')}
          onchange={(event) => set('tools', name, 'personal')(event.currentTarget.checked || undefined)}
        /> reads personal data</label
      >
    </fieldset>
  {/each}
</div>
