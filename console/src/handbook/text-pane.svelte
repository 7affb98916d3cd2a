<script lang="ts">
  import { onMount, untrack } from 'svelte';
  import type { HandbookDraft } from './draft.svelte';
  import type { Editor } from './editor';

  let { draft, line = $bindable(1) }: { draft: HandbookDraft; line?: number } = $props();

  let host: HTMLDivElement;
  let editor: Editor | undefined;
  let loading = $state(true);

  onMount(() => {
    let closed = false;
    void import('./editor').then((module) => {
      if (!closed) {
        editor = new module.Editor(host, 'Text of ' + draft.path, draft.text, draft.path, {
          onType: (text) => draft.edit(text),
          onLine: (at) => (line = at),
          outline: () => draft.assessment?.outline,
        });
        editor.show(draft.findings(draft.path));
        loading = false;
      }
    });
    return () => {
      closed = true;
      editor?.close();
    };
  });

  $effect(() => {
    const findings = draft.findings(draft.path);
    editor?.show(findings);
  });
  $effect(() => {
    void draft.replaced;
    editor?.replace(untrack(() => draft.text));
  });

  /** Leads to a line of the text. */
  export function goTo(number: number): void {
    editor?.goTo(number);
  }
</script>

{#if loading}<p class="p-3 text-faint">Opening the editor…</p>{/if}
<div bind:this={host} class="h-full min-h-0" data-editor></div>
