<script lang="ts">
  import { api, type ApiError } from '../api/client';
  import { missing, refused, typed } from '../ask/form';
  import Asked from '../ask/asked.svelte';
  import FailureNote from '../parts/failure-note.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import Waiting from '../parts/waiting.svelte';
  import { route } from '../router';
  import Paper from './paper.svelte';

  /** A form for everybody: nothing is asked by it before it is confirmed by mail. */
  const kind = $derived((route.params as { kind: string }).kind);
  const form = new Loaded(() => api.publicForm(kind));
  $effect(() => {
    void kind;
    void form.refresh();
  });

  let name = $state('');
  let address = $state('');
  let subject = $state('');
  let text = $state('');
  let fields = $state<Record<string, string>>({});
  let wrong = $state<Record<string, string>>({});
  let failure = $state<ApiError>();
  let busy = $state(false);
  let sent = $state('');

  async function send(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    failure = undefined;
    wrong = missing(form.value!.fields, subject, fields);
    if (!name.trim()) wrong.name = 'Say who you are.';
    if (!/^\S+@\S+$/.test(address.trim())) wrong.address = 'Give your mail address; that is where you are answered.';
    if (Object.keys(wrong).length) {
      requestAnimationFrame(() => document.querySelector<HTMLElement>('[aria-invalid=true]')?.focus());
      return;
    }
    busy = true;
    try {
      const asked = await api.fillForm(kind, { name, address, subject, text, fields: typed(form.value!.fields, fields) });
      sent = asked.address;
    } catch (error) {
      failure = error as ApiError;
      wrong = refused(failure);
    } finally {
      busy = false;
    }
  }
</script>

<Waiting loaded={form}>
  {#snippet children(shown)}
    <Paper house={shown.house} title={shown.title}>
      {#if sent}
        <section class="sheet space-y-2 p-5" role="status">
          <h2>Look into your mail</h2>
          <p>
            If <span class="font-semibold break-all">{sent}</span> is your address, a mail is on its way to you. Open the link in it, look
            at what you asked, and send it off there. <span class="font-semibold">Nothing is asked before you do.</span>
          </p>
          <p class="text-faint">
            No mail after some minutes? Look among the unwanted ones. One address gets three of these mails an hour at most.
          </p>
        </section>
      {:else}
        <form onsubmit={send} novalidate class="sheet space-y-4 p-5">
          {#if failure}<FailureNote {failure} />{/if}
          <Asked fields={shown.fields} bind:subject bind:text bind:values={fields} {wrong} />
          <div>
            <label class="label" for="name">Your name</label>
            <input
              id="name"
              class="field"
              bind:value={name}
              maxlength="120"
              autocomplete="name"
              aria-invalid={!!wrong.name}
              aria-describedby="about-name"
            />
            <p id="about-name" class="mt-1 text-sm font-semibold text-signal">{wrong.name ?? ''}</p>
          </div>
          <div>
            <label class="label" for="address">Your mail address</label>
            <input
              id="address"
              class="field"
              type="email"
              bind:value={address}
              maxlength="320"
              autocomplete="email"
              aria-invalid={!!wrong.address}
              aria-describedby="about-address"
            />
            <p id="about-address" class={['mt-1 text-sm', wrong.address ? 'font-semibold text-signal' : 'text-faint']}>
              {wrong.address ?? 'You are asked there whether this is yours, and answered there.'}
            </p>
          </div>
          <button class="button button-main" disabled={busy}>{busy ? 'Sending…' : 'Send'}</button>
        </form>
      {/if}
    </Paper>
  {/snippet}
</Waiting>
