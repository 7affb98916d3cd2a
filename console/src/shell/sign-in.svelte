<script lang="ts">
  import { ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import { session } from './session.svelte';

  let person = $state('');
  let password = $state('');
  let failure = $state<ApiError>();
  let busy = $state(false);

  async function signIn(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    busy = true;
    failure = undefined;
    try {
      await session.signIn(person.trim(), password);
    } catch (error) {
      failure = error as ApiError;
      password = '';
    } finally {
      busy = false;
    }
  }
</script>

<main class="mx-auto mt-[12vh] max-w-sm px-4">
  <img src="/mark.svg" alt="" class="mb-4 h-10 w-10" />
  <h1>Servitor</h1>
  <p class="mb-6 text-faint">Agents do the work a runbook allows. People decide the rest.</p>
  <form onsubmit={signIn} class="sheet space-y-4 p-5">
    {#if failure}<FailureNote {failure} />{/if}
    <div>
      <label class="label" for="person">Name</label>
      <input id="person" class="field" bind:value={person} autocomplete="username" autocapitalize="none" required />
    </div>
    <div>
      <label class="label" for="password">Password</label>
      <input id="password" class="field" type="password" bind:value={password} autocomplete="current-password" required />
    </div>
    <button class="button button-main w-full" disabled={busy}>Sign in</button>
  </form>
</main>
