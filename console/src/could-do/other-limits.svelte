<script lang="ts">
  import { untrack } from 'svelte';
  import { api, ApiError, type LimitPoint } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import { curve, type Tried } from './limits';

  /** What other amounts in a grant, or other marks of sureness at a step, would have made of the last ninety days. */
  let { of, title, now, first }: { of: Tried; title: string; now?: number; first: number[] } = $props();

  const DAYS = 90;
  const uid = $props.id();

  let wanted = $state(untrack(() => first.join(', ')));
  let points = $state<LimitPoint[]>();
  let chosen = $state<number>();
  let failure = $state<ApiError>();
  let busy = $state(false);

  const shown = $derived(points?.find((point) => point.limit === chosen));
  const agreed = $derived(shown?.cases.filter((id) => !shown.price.includes(id)) ?? []);
  const drawn = $derived(points ? curve(points) : undefined);

  async function look(): Promise<void> {
    busy = true;
    failure = undefined;
    try {
      const limits = wanted
        .split(/[,;\s]+/)
        .filter(Boolean)
        .map(Number);
      points = await api.tryLimits({ ...of, limits, days: DAYS });
      chosen = undefined;
    } catch (error) {
      failure = error as ApiError;
    } finally {
      busy = false;
    }
  }
</script>

{#snippet cases(ids: string[])}
  {#each ids as id (id)}<a class="mr-2 whitespace-nowrap" href="/cases/{id}">{id}</a>{/each}
{/snippet}

<section class="sheet space-y-3 p-4" aria-labelledby={uid}>
  <h3 id={uid}>{title}</h3>
  <form class="flex flex-wrap items-end gap-3" onsubmit={(event) => (event.preventDefault(), void look())}>
    <label class="grow text-sm text-faint"
      >Tried{now === undefined ? '' : `, now ${now}`}
      <input class="field mt-0.5 w-full text-ink" bind:value={wanted} inputmode="decimal" />
    </label>
    <button class="button" disabled={busy}>{busy ? 'Looking back…' : `Look at ${DAYS} days`}</button>
  </form>
  {#if failure}<FailureNote {failure} />{/if}
  {#if points && drawn}
    {#if points.every((point) => point.judged === 0)}<p class="text-faint">No such call was judged in that time.</p>{:else}
      <svg viewBox="0 0 300 120" class="w-full" role="img" aria-label="Approvals saved, and of those declined or changed, by limit">
        <polyline points={drawn.saved} fill="none" class="stroke-accent" stroke-width="2" />
        <polyline points={drawn.declined} fill="none" class="stroke-signal" stroke-width="2" stroke-dasharray="4 3" />
        {#each drawn.dots as dot (dot.limit)}
          <!-- the same is in the table below, for keys -->
          <circle
            cx={dot.x}
            cy={dot.y}
            r={chosen === dot.limit ? 6 : 4}
            class="cursor-pointer fill-accent"
            role="presentation"
            onclick={() => (chosen = dot.limit)}
          />
        {/each}
      </svg>
      <p class="text-sm text-faint">
        <span class="text-accent">—</span> approvals saved <span class="text-signal">- -</span> of those, declined or changed
      </p>
      <table class="w-full text-sm">
        <thead class="text-left text-faint">
          <tr>
            <th class="font-normal">Up to</th><th class="text-right font-normal">asked</th><th class="text-right font-normal">alone</th>
            <th class="text-right font-normal">saved</th><th class="text-right font-normal">declined</th><th class="text-right font-normal"
              >let through</th
            >
          </tr>
        </thead>
        <tbody>
          {#each points as point (point.limit)}
            <tr class={['border-t border-line', point.limit === now && 'font-semibold']}>
              <td
                ><button
                  class="cursor-pointer text-accent underline"
                  aria-pressed={chosen === point.limit}
                  onclick={() => (chosen = point.limit)}>{point.limit}</button
                ></td
              >
              <td class="text-right">{point.asked}</td><td class="text-right">{point.alone}</td>
              <td class="text-right">{point.saved}</td><td class={['text-right', point.declined > 0 && 'text-signal']}>{point.declined}</td>
              <td class="text-right">{point.money.toLocaleString('en-GB', { minimumFractionDigits: 2, maximumFractionDigits: 2 })}</td>
            </tr>
          {/each}
        </tbody>
      </table>
      {#if shown}
        <p class="text-sm">
          {#if shown.price.length}Declined or changed then, and alone at {shown.limit}: {@render cases(shown.price)}
          {:else}Nobody declined or changed what would be alone at {shown.limit}.{/if}
        </p>
        {#if agreed.length}<p class="text-sm">Others asked about then, and alone at {shown.limit}: {@render cases(agreed)}</p>{/if}
        {#if shown.saved > shown.cases.length}<p class="text-sm text-faint">Of {shown.saved} the first {shown.cases.length}.</p>{/if}
      {/if}
      <p class="text-sm text-faint">
        Not known: how people would have behaved, what nobody wanted under the limit of then, and what would have followed where nobody was
        asked that now would be.
      </p>
    {/if}
  {/if}
</section>
