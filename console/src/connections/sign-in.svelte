<script lang="ts">
  import { api, type Connection, ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';

  // what a browser came back with is read once and taken out of the address, so that it stays in no history
  const query = new URLSearchParams(location.search);
  const given = (name: string): string | undefined => query.get(name) ?? undefined;
  const answer = { state: given('state') ?? '', code: given('code'), iss: given('iss'), error: given('error') };
  const name = sessionStorage.getItem('signing-in') ?? '';
  history.replaceState(history.state, '', location.pathname);

  let kept = $state<Connection>();
  let failure = $state<ApiError>();
  let asking = $state(false);

  async function keep(): Promise<void> {
    asking = true;
    failure = undefined;
    try {
      kept = await api.finishSignIn(answer);
    } catch (error) {
      failure = error as ApiError;
    } finally {
      asking = false;
    }
  }
</script>

<div class="sheet mx-auto max-w-xl space-y-4 p-6">
  {#if kept}
    <h1>{kept.name} is signed in to</h1>
    <p>Calls by it go out as whom you signed in there, until that is taken back there or somebody signs in again.</p>
    <p><a class="text-accent underline" href="/connections">To the connections</a></p>
  {:else if answer.code}
    <h1>Keep this sign-in?</h1>
    <p>
      You come back from signing in at an outside system{#if name}, for the connection <strong>{name}</strong>{/if}. When you keep it, the
      service acts there as whom you signed in. What it was given is stored sealed, and never shown.
    </p>
    {#if failure}<FailureNote {failure} />{/if}
    <p class="flex items-baseline gap-4">
      <button class="button button-main" disabled={asking} onclick={keep}>Keep it</button>
      <a class="text-accent underline" href="/connections">Don’t</a>
    </p>
  {:else}
    <h1>Nobody was signed in</h1>
    <p>
      {answer.error
        ? 'The other side says: ' + answer.error.slice(0, 200) + '.'
        : 'This page is where browsers come back to from signing in elsewhere.'}
      Begin at the connection, by <em>Sign in there</em>.
    </p>
    <p><a class="text-accent underline" href="/connections">To the connections</a></p>
  {/if}
</div>
