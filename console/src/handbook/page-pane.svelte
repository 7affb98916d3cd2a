<script lang="ts">
  import type { PageInWords } from '../api/client';

  /** A page in plain words, or drawn. Clicking a step leads to its text; the step the cursor is in is marked. */
  let { page, as, line, onGo }: { page: PageInWords; as: 'words' | 'drawing'; line: number; onGo: (line: number) => void } = $props();

  let drawing = $state<HTMLDivElement>();
  const current = $derived(page.explanation.steps.filter((step) => step.line <= line).at(-1)?.address);

  $effect(() => {
    void page.svg;
    drawing
      ?.querySelectorAll('[data-step]')
      .forEach((step) => step.classList.toggle('current-step', step.getAttribute('data-step') === current));
  });

  function onClick(event: MouseEvent): void {
    const step = (event.target as Element).closest('[data-line]');
    if (step) {
      onGo(Number(step.getAttribute('data-line')));
    }
  }
</script>

{#if as === 'words'}
  <p class="mb-4">{page.explanation.paragraph}</p>
  <ol class="space-y-1">
    {#each page.explanation.steps as step, index (step.address)}
      <li>
        <button
          class={[
            'w-full cursor-pointer rounded-sm px-2 py-1 text-left hover:bg-accent-soft',
            step.address === current && 'bg-accent-soft',
          ]}
          onclick={() => onGo(step.line)}
        >
          <span class="font-semibold">{index + 1}. {step.title}</span>
          <span class="block text-sm">{step.words}</span>
        </button>
      </li>
    {/each}
  </ol>
{:else}
  <!-- The service writes this drawing with every text escaped; the words and the text beside it say the same for keyboards. -->
  <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
  <!-- eslint-disable-next-line svelte/no-at-html-tags -->
  <div bind:this={drawing} class="drawing" onclick={onClick}>{@html page.svg}</div>
{/if}
