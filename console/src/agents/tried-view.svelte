<script lang="ts">
  import type { StepTried } from '../api/client';
  import MachineMark from '../parts/machine-mark.svelte';
  import ToldView from './told-view.svelte';

  /** What a model said at a step, and what that would come to; what differs from another try is marked. */
  let { by, came, other }: { by: string; came: StepTried; other?: StepTried } = $props();

  const answer = $derived(Object.entries((came.answer ?? {}) as Record<string, unknown>));
  const words = (value: unknown): string => (typeof value === 'string' ? value : JSON.stringify(value));
  const differs = (name: string, value: unknown): boolean =>
    other !== undefined && words(((other.answer ?? {}) as Record<string, unknown>)[name]) !== words(value);
</script>

<section class="min-w-0 border-t border-line pt-3" aria-label="By {by}">
  <h3 class="text-sm text-faint">By {by}</h3>
  {#if came.trouble}
    <p class="border-l-4 border-l-signal pl-3">
      It would meet <span class="font-semibold">{came.trouble.problem}</span>: {came.trouble.detail}
    </p>
  {/if}
  {#if answer.length}
    <dl class="mt-1 space-y-1">
      {#each answer as [name, value] (name)}
        <div class={[differs(name, value) && 'bg-accent-soft']}>
          <dt class="text-sm text-faint">{name}{differs(name, value) ? ', which differs' : ''}</dt>
          <dd class="whitespace-pre-wrap">
            {words(value)}{#if name === 'text'}<MachineMark />{/if}
          </dd>
        </div>
      {/each}
    </dl>
  {/if}
  {#each came.calls as call, index (index)}
    <div class="mt-2">
      <p>Would call <span class="font-semibold">{call.tool}</span></p>
      <pre class="text-sm whitespace-pre-wrap wrap-anywhere">{JSON.stringify(call.inputs, null, 2)}</pre>
      <p>
        The gate says
        <span class={['font-semibold', call.verdict === 'allow' && 'text-accent', call.verdict === 'ask' && 'text-signal']}
          >{call.verdict}</span
        >
        {call.of.join(', ')}: {call.reason}
      </p>
    </div>
  {/each}
  <p class="mt-2 text-sm text-faint">{came.tokens} tokens used.</p>
  <details class="mt-1">
    <summary class="cursor-pointer text-sm text-accent">What it was told</summary>
    <ToldView told={came.told} />
  </details>
</section>
