<script lang="ts">
  import type { Decision } from './decision.svelte';
  import InWords from './in-words.svelte';

  let { decision, onDecline, onSendBack }: { decision: Decision; onDecline: () => void; onSendBack: () => void } = $props();

  const WORDS = {
    decline: { label: 'Why not? The answer to the requester is written from this.', button: 'Decline' },
    feedback: { label: 'What should be different? It is written again from this.', button: 'Send it back' },
    plan: { label: 'What should be different? Another plan is made from this.', button: 'Ask for another plan' },
    question: { label: 'Your answer, in your own words.', button: 'Answer so' },
  };
  /** What words become that are neither a yes nor a no. */
  const otherwise = $derived(
    decision.sheet?.sheet.plan ? 'plan' : decision.sheet?.sheet.edits?.length || !decision.sheet?.sheet.form ? 'feedback' : 'question',
  );
  const follows = $derived(decision.sheet?.follows);
</script>

<form class="space-y-3" onsubmit={(event) => event.preventDefault()}>
  {#if decision.confirming}
    <div
      class="sheet border-l-4 border-l-signal p-3"
      role="alertdialog"
      tabindex="-1"
      {@attach (dialog) => dialog.focus()}
      aria-labelledby="once-more"
      aria-describedby="in-full"
    >
      <p id="once-more" class="mb-1 font-semibold">This is then done, and counts as yours:</p>
      <p id="in-full" class="mb-3 break-words">{decision.sheet?.confirm}</p>
      <div class="flex flex-wrap gap-3">
        <button type="button" class="button button-main" disabled={decision.busy} onclick={() => decision.confirm()}>Yes, do it</button>
        <button type="button" class="button" disabled={decision.busy} onclick={() => (decision.confirming = false)}>Back</button>
      </div>
    </div>
  {:else if decision.wording}
    {@const words = WORDS[decision.wording === 'feedback' ? otherwise : decision.wording]}
    <div>
      <label class="label" for="reason">{words.label}</label>
      <textarea id="reason" class="field" rows="2" bind:value={decision.reason}></textarea>
    </div>
    <div class="flex flex-wrap gap-3">
      <button
        type="button"
        class="button"
        disabled={decision.busy || !decision.reason.trim()}
        onclick={decision.wording === 'decline' ? onDecline : onSendBack}>{words.button}</button
      >
      <button type="button" class="button" onclick={() => (decision.wording = undefined)}>Back</button>
    </div>
  {:else}
    <div class="thumb flex flex-wrap items-baseline gap-3">
      <button type="button" class="button button-main" disabled={decision.busy} onclick={() => decision.approve()}>
        Approve{decision.edited ? ' with my changes' : ''}{decision.sheet?.confirm ? '…' : ''}
        <kbd class="font-mono text-sm opacity-80">a</kbd>
      </button>
      <button type="button" class="button" disabled={decision.busy} onclick={onDecline}>
        Decline <kbd class="font-mono text-sm opacity-80">d</kbd>
      </button>
      {#if decision.rounds > 0}
        <button type="button" class="button" disabled={decision.busy} onclick={onSendBack}>
          {otherwise === 'feedback' ? 'Send back' : WORDS[otherwise].button} <kbd class="font-mono text-sm opacity-80">f</kbd>
        </button>
        {#if otherwise !== 'question'}<span class="text-sm text-faint"
            >{decision.rounds === 1 ? 'once more' : `${decision.rounds} times more`}</span
          >{/if}
      {/if}
    </div>
  {/if}
  {#if follows}
    <dl class="grid grid-cols-[auto_1fr] gap-x-3 gap-y-0.5 text-sm text-faint" aria-label="What follows">
      <dt>After a yes</dt>
      <dd>{follows.yes}</dd>
      <dt>After a no</dt>
      <dd>{follows.no}</dd>
      <dt>Without an answer</dt>
      <dd>{follows.silence}</dd>
    </dl>
  {/if}
</form>
{#if !decision.confirming && !decision.wording}<InWords {decision} />{/if}
