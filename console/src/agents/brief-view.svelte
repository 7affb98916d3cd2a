<script lang="ts">
  import type { Agent } from '../api/client';

  /** An agent's standing instructions, as people read them. */
  let { brief }: { brief: Agent['brief'] } = $props();

  const rules = $derived(
    (
      [
        ['Always', brief.always],
        ['Never', brief.never],
        ['How it writes', brief.writing],
      ] as const
    ).filter(([, all]) => all.length),
  );
</script>

<section class="sheet space-y-3 p-4" aria-label="Brief">
  <h2>Brief</h2>
  <p>{brief.job}</p>
  {#if brief.audience}<p><span class="text-sm text-faint">Writes to</span> {brief.audience}</p>{/if}
  {#each rules as [sort, all] (sort)}
    <div>
      <h3 class="text-sm text-faint">{sort}</h3>
      <ul class="list-disc pl-5">
        {#each all as rule (rule)}<li>{rule}</li>{/each}
      </ul>
    </div>
  {/each}
  {#if brief.examples.length}
    <div>
      <h3 class="text-sm text-faint">Examples</h3>
      {#each brief.examples as example (example.asked + example.output)}
        <figure class={['mt-1 border-l-4 pl-3', example.why ? 'border-l-signal' : 'border-l-accent']}>
          {#if example.asked}<p class="text-sm text-faint">{example.asked}</p>{/if}
          <blockquote>{example.output}</blockquote>
          {#if example.why}<figcaption class="text-sm">Bad, because {example.why}</figcaption>{/if}
        </figure>
      {/each}
    </div>
  {:else}<p class="text-faint">No example yet: without one, a model adds things nobody asked for.</p>{/if}
</section>
