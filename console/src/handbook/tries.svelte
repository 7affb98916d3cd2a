<script lang="ts">
  import { ApiError, api } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import Waiting from '../parts/waiting.svelte';
  import When from '../parts/when.svelte';
  import { go } from '../router';
  import HandbookHead from './handbook-head.svelte';

  /** What one tries out on one's draft, and where another begins. */
  const loaded = new Loaded(async () => ({
    tries: await api.tries(),
    rehearsals: (await api.rehearsals()).played,
    kinds: (await api.assess('')).outline.kinds,
  }));
  $effect(() => void loaded.refresh());

  let begins = $state<'request' | 'rehearsal' | 'case'>('request');
  let rehearsal = $state('');
  let caseId = $state('');
  let kind = $state('');
  let subject = $state('');
  let text = $state('');
  let fields = $state('');
  let failure = $state<ApiError>();

  /** Fields as lines of name: value. */
  function asked(): Record<string, string> {
    return Object.fromEntries(
      fields
        .split('\n')
        .filter((line) => line.includes(':'))
        .map((line) => [line.slice(0, line.indexOf(':')).trim(), line.slice(line.indexOf(':') + 1).trim()]),
    );
  }

  async function begin(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    failure = undefined;
    try {
      const begun = await api.beginTry(
        begins === 'rehearsal'
          ? { rehearsal }
          : begins === 'case'
            ? { caseId: caseId.trim() }
            : { request: { kind, subject: subject || 'A request', text, fields: asked() } },
      );
      go(`/handbook/tries/${begun.about.id}`);
    } catch (error) {
      failure = error as ApiError;
    }
  }

  async function giveUp(id: string): Promise<void> {
    await api.giveUpTry(id);
    await loaded.refresh();
  }
</script>

<HandbookHead />
<Waiting {loaded}>
  {#snippet children({ tries, rehearsals, kinds })}
    <div class="grid grid-cols-[minmax(0,1fr)] gap-6 lg:grid-cols-2">
      <form class="sheet space-y-3 p-4" onsubmit={begin}>
        <h2>Try a page of your draft</h2>
        <p class="text-sm text-faint">
          It plays to the first thing that nobody has answered, you answer, and it plays on. Nothing is done, and nothing is kept on a case.
        </p>
        <div class="flex flex-wrap gap-4">
          {#each [['request', 'a request'], ['rehearsal', 'a rehearsal'], ['case', 'a case']] as const as [value, says] (value)}
            <label><input type="radio" name="begins" {value} bind:group={begins} /> {says}</label>
          {/each}
        </div>
        {#if begins === 'rehearsal'}
          <label class="label" for="rehearsal">Rehearsal</label>
          <select id="rehearsal" class="field" bind:value={rehearsal} required>
            {#each rehearsals as one (one.name)}<option value={one.name}>{one.title}</option>{/each}
          </select>
        {:else if begins === 'case'}
          <label class="label" for="case">Case that is done, by its number</label>
          <input id="case" class="field" placeholder="C-1001" bind:value={caseId} required />
        {:else}
          <label class="label" for="kind">Kind</label>
          <select id="kind" class="field" bind:value={kind} required>
            {#each kinds as one (one)}<option value={one}>{one}</option>{/each}
          </select>
          <label class="label" for="subject">Subject</label>
          <input id="subject" class="field" bind:value={subject} />
          <label class="label" for="text">What is asked</label>
          <textarea id="text" class="field" rows="4" bind:value={text}></textarea>
          <label class="label" for="fields">Fields, one to a line</label>
          <textarea id="fields" class="field font-mono text-sm" rows="2" placeholder="booking: SK-48213" bind:value={fields}></textarea>
        {/if}
        {#if failure}<FailureNote {failure} />{/if}
        <button class="button">Try it</button>
      </form>
      <section aria-labelledby="yours">
        <h2 id="yours" class="mb-2">Yours</h2>
        <ul class="sheet">
          {#each tries as one (one.id)}
            <li class="flex flex-wrap gap-x-3 border-b border-line px-3 py-2 last:border-0">
              <a class="min-w-0 grow wrap-anywhere" href="/handbook/tries/{one.id}">{one.title}</a>
              <span class="text-sm text-faint">{one.source} {one.named}</span>
              <span class="text-sm text-faint"><When time={one.updated} /></span>
              <button class="cursor-pointer text-sm text-accent underline" onclick={() => giveUp(one.id)}>give up</button>
            </li>
          {:else}<li class="p-4 text-faint">You try nothing yet.</li>{/each}
        </ul>
      </section>
    </div>
  {/snippet}
</Waiting>
