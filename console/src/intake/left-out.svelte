<script lang="ts">
  import { api, ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import When from '../parts/when.svelte';
  import { go } from '../router';

  let { intake }: { intake: string } = $props();

  const mails = new Loaded(() => api.leftOut(intake));
  $effect(() => mails.follow());

  let taking = $state('');
  let requester = $state('');
  let failure = $state<ApiError>();

  async function takeIn(event: Event): Promise<void> {
    event.preventDefault();
    failure = undefined;
    try {
      go('/cases/' + (await api.takeIn(intake, taking, requester.trim())).id);
    } catch (error) {
      failure = error as ApiError;
    }
  }

  function begin(mail: string): void {
    taking = mail;
    requester = '';
    failure = undefined;
  }
</script>

{#if mails.failure}<FailureNote failure={mails.failure} />{/if}
{#if mails.value?.length}
  <h3 class="mt-3 mb-1 font-semibold">Left out</h3>
  <ul class="divide-y divide-line">
    {#each mails.value as mail (mail.id)}
      <li class="py-2">
        <p class="flex flex-wrap items-baseline gap-x-3">
          <span class="font-semibold break-words">{mail.subject || '(no subject)'}</span>
          <span class="text-sm text-faint"
            >says it is from <span class="break-all">{mail.sender || 'nobody'}</span>, <When time={mail.received} /></span
          >
          {#if taking !== mail.id}
            <button
              class="ml-auto cursor-pointer text-sm text-accent underline"
              onclick={() => begin(mail.id)}
              aria-label="Take in {mail.subject}">Take it in…</button
            >
          {/if}
        </p>
        <p class="text-sm">Why: {mail.reason}.</p>
        {#if taking === mail.id}
          <form class="mt-2 flex flex-wrap items-end gap-3" onsubmit={takeIn}>
            <div>
              <label class="label" for="for-{mail.id}">Whose case it is</label>
              <input id="for-{mail.id}" class="field" bind:value={requester} placeholder="a person’s id" />
            </div>
            <button class="button button-main" disabled={!requester.trim()}>Take it in</button>
            <button type="button" class="button" onclick={() => (taking = '')}>Leave it out</button>
          </form>
          <p class="mt-1 text-sm text-faint">That it is from them stays a claim.</p>
          {#if failure}<FailureNote {failure} />{/if}
        {/if}
      </li>
    {/each}
  </ul>
{/if}
