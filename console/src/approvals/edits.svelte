<script lang="ts">
  import MachineMark from '../parts/machine-mark.svelte';
  import type { Decision } from './decision.svelte';
  import Difference from './difference.svelte';

  /** The texts that will be used, which the person may change. */
  let { decision }: { decision: Decision } = $props();

  const sheet = $derived(decision.sheet!);
  const edits = $derived(sheet.sheet.edits ?? []);
  /** The version that was sent back last; one that is as it was says nothing. */
  const before = $derived(sheet.sheet.before);
  const answered = $derived(sheet.answers.find((answer) => Object.keys(answer.texts).length > 0));
</script>

<section class="sheet p-4" aria-labelledby="will-be-sent">
  <h2 id="will-be-sent" class="mb-2 flex flex-wrap items-baseline gap-x-3">
    What will be sent
    {#if edits.some((edit) => edit.written)}<MachineMark by={sheet.written?.model ?? ''} />{/if}
  </h2>
  {#each edits as edit, index (edit.key)}
    {@const several = edits.length > 1}
    {#if several}<h3 class="mt-3 text-sm font-semibold text-faint">{edit.key}</h3>{/if}
    {#if decision.writable}
      <label class="sr-only" for="text-{index}">The text{several ? ` ‘${edit.key}’` : ''}, which you may change</label>
      <textarea id="text-{index}" class="field" rows={several ? 4 : 6} bind:value={decision.texts[edit.key]}></textarea>
      {#if decision.texts[edit.key] !== edit.text}
        <p class="mt-3 text-sm text-faint">Your changes:</p>
        <Difference before={edit.text} after={decision.texts[edit.key] ?? ''} />
      {/if}
    {:else if answered?.texts[edit.key]}
      <Difference before={edit.text} after={answered.texts[edit.key]!} />
    {:else}<p class="whitespace-pre-wrap">{edit.text}</p>{/if}
    {#if before && typeof before.versions[edit.key] === 'string'}
      <p class="mt-3 text-sm text-faint">It was sent back with ‘{before.said}’. What is different since:</p>
      <Difference before={before.versions[edit.key]!} after={edit.text} />
    {/if}
  {/each}
  {#if sheet.written}
    <p class="mt-3 text-sm text-faint">The model is {Math.round(sheet.written.sure * 100)} % sure: {sheet.written.reason}</p>
  {/if}
</section>
