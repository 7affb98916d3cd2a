<script lang="ts">
  import { api, type ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import Waiting from '../parts/waiting.svelte';
  import Given from './given.svelte';
  import { secret } from './secret';
  import Paper from './paper.svelte';

  /** What a link from a mail confirms. Looking at it does nothing; the button does. */
  const link = secret();
  const asked = new Loaded(() => api.toConfirm(link));
  $effect(() => void asked.refresh());

  let failure = $state<ApiError>();
  let busy = $state(false);

  async function confirm(): Promise<void> {
    busy = true;
    try {
      asked.value = await api.confirmForm(link);
      failure = undefined;
    } catch (error) {
      failure = error as ApiError;
    } finally {
      busy = false;
    }
  }
</script>

<Waiting loaded={asked}>
  {#snippet children(shown)}
    {#if shown.state === 'open'}
      <Paper house={shown.house} title="Is this yours?">
        <section class="sheet space-y-3 p-5">
          <p class="text-faint">{shown.title}, by {shown.name} ({shown.address})</p>
          <Given subject={shown.subject ?? ''} text={shown.text ?? ''} fields={shown.fields ?? []} />
        </section>
        {#if failure}<div class="mt-3"><FailureNote {failure} /></div>{/if}
        <p class="mt-4">
          <button type="button" class="button button-main" disabled={busy} onclick={confirm}>{busy ? 'Sending…' : 'Yes, send this'}</button>
        </p>
        <p class="mt-3 text-faint">Not yours, or not right? Close this page: nothing is asked, and after two days it is forgotten.</p>
      </Paper>
    {:else if shown.state === 'confirmed'}
      <Paper house={shown.house} title="It is asked">
        <p class="sheet p-5" role="status">
          This was sent off. A mail tells whoever gave the address how to follow it; this link does nothing more.
        </p>
      </Paper>
    {:else}
      <Paper house={shown.house} title="Nothing is asked">
        <p class="sheet p-5" role="status">This was not confirmed in time, and is forgotten. Please fill in the form once more.</p>
      </Paper>
    {/if}
  {/snippet}
</Waiting>
