<script lang="ts">
  import { api } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import When from '../parts/when.svelte';

  /** Forms that people sent in who can’t sign in, and how far each is. */
  const forms = new Loaded(api.forms);
  $effect(() => forms.follow());

  const words: Record<string, string> = {
    'to-ask': 'is to be asked by mail',
    asking: 'is being asked by mail',
    asked: 'was asked by mail',
    'to-tell': 'became',
    telling: 'became',
    told: 'became',
    left: 'gets no mail',
    forgotten: 'not confirmed in time',
  };
  const shownAtFirst = 8;
  let all = $state(false);
</script>

{#if forms.value && (forms.value.forms.length || forms.value.refused.length)}
  {@const { forms: list, refused } = forms.value}
  <section class="sheet mb-4 p-4">
    <h2>Forms for everybody</h2>
    <p class="text-sm text-faint">What somebody asks who can’t sign in is a case once they have confirmed it by mail.</p>
    {#each refused as refusal (refusal.since + refusal.reason)}
      <p class="mt-2 border-l-4 border-l-signal pl-2">
        {refusal.times === 1 ? 'One was refused' : `${refusal.times} were refused`}, the last <When time={refusal.latest} />: {refusal.reason}.
      </p>
    {/each}
    <ul class="mt-2 divide-y divide-line">
      {#each all ? list : list.slice(0, shownAtFirst) as form (form.id)}
        <li class="flex flex-wrap items-baseline gap-x-3 py-1.5">
          <span>{form.kind}</span>
          <span class="text-sm text-faint"><When time={form.received} /></span>
          <span class="ml-auto text-sm">
            {words[form.state]}
            {#if form.caseId}<a href="/cases/{form.caseId}">{form.caseId}</a>{/if}
          </span>
          {#if form.detail}<span class="basis-full text-sm break-words">Why: {form.detail}.</span>{/if}
        </li>
      {/each}
    </ul>
    {#if list.length > shownAtFirst && !all}
      <button class="button mt-2" onclick={() => (all = true)}>Show all {list.length}</button>
    {/if}
  </section>
{/if}
