<script lang="ts">
  import type { Told } from '../api/client';

  /** What a model is told, part by part, each with where it is from and its share. */
  let { told }: { told: Told } = $props();

  const FROM: Record<string, string> = {
    house: 'the house',
    brief: 'the brief',
    servitor: 'Servitor, always',
    step: 'the step’s words',
    form: 'the form of the answer',
    earlier: 'versions that were sent back',
    plan: 'its plan',
    facts: 'what the run knows',
    request: 'the request',
    document: 'the document',
  };
  const share = (tokens: number): number => Math.round((100 * tokens) / Math.max(1, told.tokens));
</script>

{#snippet part(from: string, tokens: number, text: string)}
  <details class="border-t border-line py-1.5">
    <summary class="flex cursor-pointer flex-wrap items-center gap-x-3">
      <span class="min-w-44">{from}</span>
      <span class="h-2 w-32 bg-line" aria-hidden="true"><span class="block h-2 bg-accent" style:width="{share(tokens)}%"></span></span>
      <span class="text-sm text-faint">{tokens} tokens, {share(tokens)} %</span>
    </summary>
    <pre class="mt-1 max-h-80 overflow-auto text-sm whitespace-pre-wrap wrap-anywhere">{text.trim()}</pre>
  </details>
{/snippet}

<section aria-label="What it is told">
  {#if told.trouble}
    <p class="border-l-4 border-l-signal pl-3">The model isn’t asked: {told.trouble.problem}: {told.trouble.detail}</p>
  {:else}
    <p class="pb-1.5 text-sm text-faint">About {told.tokens} tokens for {told.model}, in this order; open a part to read it.</p>
    {#each told.parts as one, index (index)}{@render part(FROM[one.from] ?? one.from, one.tokens, one.text)}{/each}
    {#each told.tools as tool (tool.name)}
      {@render part(`tool ${tool.name}`, tool.tokens, `${tool.description}\n${JSON.stringify(tool.inputs, null, 2)}`)}
    {/each}
  {/if}
</section>
