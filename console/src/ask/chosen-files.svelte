<script lang="ts">
  import type { Kind } from '../api/client';

  /** Files that go with what is asked, as far as the kind takes them. */
  let { rule, documents, files = $bindable() }: { rule: Kind['files']; documents: Kind['documents']; files: File[] } = $props();

  let fault = $state('');
  const said = $derived(
    `At most ${rule.most}, each up to ${rule.megabytes} MB` + (rule.types.length ? `: ${[...rule.types].sort().join(', ')}.` : '.'),
  );

  function fits(file: File): boolean {
    return (
      !rule.types.length || rule.types.some((type) => (type.endsWith('/*') ? file.type.startsWith(type.slice(0, -1)) : file.type === type))
    );
  }

  function add(event: Event): void {
    const input = event.currentTarget as HTMLInputElement;
    fault = '';
    for (const file of input.files ?? []) {
      if (files.length >= rule.most || file.size > rule.megabytes * 1_000_000 || !file.size || !fits(file)) {
        fault = `‘${file.name}’ can’t be added. ${said}`;
      } else {
        files = [...files, file];
      }
    }
    input.value = '';
  }
</script>

<div>
  {#each documents as document (document.title)}
    <p>
      {document.title}{document.types.length ? ` (${document.types.join(' or ')})` : ''}
      <span class="text-faint">{document.required ? (document.when ? 'needed in some cases' : 'needed') : 'if you have it'}</span>
    </p>
  {/each}
  {#each files as file (file)}
    <p class="flex items-baseline gap-3">
      <span class="min-w-0 truncate">{file.name}</span>
      <button
        type="button"
        class="cursor-pointer text-sm text-accent underline"
        onclick={() => (files = files.filter((one) => one !== file))}>take out</button
      >
    </p>
  {/each}
  <label class="inline-block cursor-pointer text-accent underline focus-within:outline-2 focus-within:outline-accent">
    Add a file
    <input type="file" class="sr-only" multiple accept={rule.types.join(',') || undefined} onchange={add} />
  </label>
  <p class={['mt-1 text-sm', fault ? 'font-semibold text-signal' : 'text-faint']} role={fault ? 'alert' : undefined}>{fault || said}</p>
</div>
