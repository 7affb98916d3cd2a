<script lang="ts">
  import type { HandbookDraft } from '../draft.svelte';
  import AgentForm from './agent-form.svelte';
  import IntakeForm from './intake-form.svelte';
  import KindForm from './kind-form.svelte';
  import MandateForm from './mandate-form.svelte';
  import ToolsForm from './tools-form.svelte';
  import RehearsalForm from './rehearsal-form.svelte';
  import { type Form as FormName, YamlFile } from './yaml-file';

  /** A file as a form; what is filled in is written into the same file. */
  let { draft, form }: { draft: HandbookDraft; form: FormName } = $props();

  const FORMS = { agent: AgentForm, intake: IntakeForm, kind: KindForm, mandate: MandateForm, rehearsal: RehearsalForm, tools: ToolsForm };
  const file = $derived(new YamlFile(draft.text));
  const Form = $derived(FORMS[form]);
</script>

{#if file.readable}
  <Form {file} outline={draft.assessment?.outline} onChange={(text: string) => draft.replace(text)} />
{:else}
  <p>This file isn’t valid YAML at the moment, so it can’t be shown as a form. Mend it as text first.</p>
{/if}
