<script lang="ts">
  import { api, type Agent, ApiError, type StepTried, type StepWanted } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import { Loaded } from '../parts/loaded.svelte';

  /** What an agent's steps are tried on: kept in its file, tried by the edition in force and by one's draft, side by side. */
  let { name, onUse }: { name: string; onUse: (sample: Agent['samples'][number]) => void } = $props();

  const agent = new Loaded(() => api.agent(name, true));
  $effect(() => void agent.refresh());
  export const refresh = (): Promise<void> => agent.refresh();

  type Pair = { now: StepTried; draft: StepTried };
  let pairs = $state<Record<number, Pair>>({});
  let failure = $state<ApiError>();
  let busy = $state(false);

  async function tryAll(samples: Agent['samples']): Promise<void> {
    busy = true;
    failure = undefined;
    pairs = {};
    try {
      for (const [at, sample] of samples.entries()) {
        const body = sample as unknown as StepWanted;
        const [now, draft] = await Promise.all([api.tryStep(name, body), api.tryStep(name, { ...body, draft: true })]);
        pairs[at] = { now, draft };
      }
    } catch (error) {
      failure = error as ApiError;
    } finally {
      busy = false;
    }
  }

  const words = (value: unknown): string => (typeof value === 'string' ? value : value === undefined ? '–' : JSON.stringify(value));
  const fields = ({ now, draft }: Pair): string[] => [
    ...new Set([...Object.keys((now.answer as object) ?? {}), ...Object.keys((draft.answer as object) ?? {})]),
  ];
  const of = (tried: StepTried, field: string): string => words(((tried.answer ?? {}) as Record<string, unknown>)[field]);
  const differing = (pair: Pair): string[] => fields(pair).filter((field) => of(pair.now, field) !== of(pair.draft, field));
</script>

<section class="sheet p-4" aria-label="Samples">
  <h2>Samples</h2>
  {#if agent.value?.samples.length}
    {@const samples = agent.value.samples}
    <ol class="mt-2 divide-y divide-line">
      {#each samples as sample, at (at)}
        <li class="py-2">
          <div class="flex flex-wrap items-baseline gap-x-3">
            <span class="font-semibold">{sample.subject || sample.step}</span>
            <span class="text-sm text-faint">{sample.step}{sample.language === 'en' ? '' : ` · ${sample.language}`}</span>
            <button type="button" class="ml-auto cursor-pointer text-sm text-accent underline" onclick={() => onUse(sample)}>use it</button>
          </div>
          <p class="text-sm wrap-anywhere">{sample.text}</p>
          {#if pairs[at]}
            {@const pair = pairs[at]}
            {@const different = differing(pair)}
            <p class="mt-1 text-sm text-faint" role="status">
              {different.length ? `By your draft it differs in ${different.join(', ')}:` : 'By your draft it is the same:'}
            </p>
            <dl class="text-sm">
              {#each different.length ? different : fields(pair) as field (field)}
                <div class={[different.length > 0 && 'grid gap-x-3 bg-accent-soft sm:grid-cols-2']}>
                  <dd class="wrap-anywhere">
                    <span class="text-faint">{field}{different.length ? ', in force' : ''}:</span>
                    {of(pair.now, field)}
                  </dd>
                  {#if different.length}<dd class="wrap-anywhere">
                      <span class="text-faint">your draft:</span>
                      {of(pair.draft, field)}
                    </dd>{/if}
                </div>
              {/each}
            </dl>
          {/if}
        </li>
      {/each}
    </ol>
    <button type="button" class="button mt-2" disabled={busy} onclick={() => void tryAll(samples)}>
      {busy ? 'asking…' : 'Try all by both, side by side'}
    </button>
  {:else if agent.value}
    <p class="text-faint">None yet. What you try out above can be kept as one, in the agent’s file of your draft.</p>
  {/if}
  {#if failure}<FailureNote {failure} />{/if}
</section>
