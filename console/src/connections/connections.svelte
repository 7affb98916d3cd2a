<script lang="ts">
  import { api, type Connection, type ToolView, ApiError } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import StopAtOnce from '../parts/stop-at-once.svelte';
  import Waiting from '../parts/waiting.svelte';
  import When from '../parts/when.svelte';
  import { session } from '../shell/session.svelte';
  import BrowserSignIn from './browser-sign-in.svelte';
  import ToolTry from './tool-try.svelte';

  const connections = new Loaded(api.connections);
  const tools = new Loaded(() => (session.is('engineer') ? api.tools() : Promise.resolve<ToolView[]>([])));
  $effect(() => connections.follow());
  const mailboxes = new Loaded(api.mailboxes);
  $effect(() => void tools.refresh());
  $effect(() => void mailboxes.refresh());

  let tested = $state<Record<string, { reached: boolean; detail: string } | 'asking'>>({});
  let chosen = $state<ToolView>();

  async function test(name: string): Promise<void> {
    tested[name] = 'asking';
    tested[name] = await api.testConnection(name).catch((error: ApiError) => ({ reached: false, detail: error.detail }));
  }

  function toolsOf(connection: Connection): ToolView[] {
    return (tools.value ?? []).filter((tool) => tool.connection === connection.name);
  }
</script>

<div class="mb-4 flex flex-wrap items-baseline gap-4">
  <h1>Connections</h1>
  <p class="text-faint">
    Where outside systems are, and the tools that go out by them. An admin sets them with <code class="font-mono text-sm"
      >servitor connection set</code
    >; credentials are never shown.
  </p>
</div>

<div class="grid grid-cols-[minmax(0,1fr)] items-start gap-6 lg:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
  <Waiting loaded={connections}>
    {#snippet children(all)}
      <ul class="space-y-3">
        {#each all as connection (connection.name)}
          {@const result = tested[connection.name]}
          <li class="sheet p-4">
            <p class="flex flex-wrap items-baseline gap-x-3">
              <span class="font-semibold">{connection.name}</span>
              <span class="font-mono text-sm break-all">{connection.url}</span>
              <button
                class="button ml-auto"
                disabled={result === 'asking'}
                onclick={() => test(connection.name)}
                aria-label="Test {connection.name}">Test</button
              >
            </p>
            {#if connection.byBrowser}<BrowserSignIn {connection} />{/if}
            <p class="text-sm text-faint">
              {connection.desk
                ? connection.desk === 'house'
                  ? 'the house’s'
                  : `belongs to ${connection.desk}`
                : 'belongs to whoever uses it'} ·
              {connection.signIn ? `signs in by ${connection.signIn}` : 'doesn’t sign in'} · {connection.inside
                ? 'may lead into a private network'
                : 'public addresses only'} · {connection.authorities ? `trusts ${connection.authorities} · ` : ''}up to {connection.atOnce} calls
              at once
            </p>
            {#each (mailboxes.value ?? []).filter((one) => one.connection === connection.name) as mailbox (mailbox.intake)}
              <p class={['text-sm', mailbox.trouble ? 'font-semibold text-signal' : 'text-faint']}>
                {mailbox.folder} is read for {mailbox.intake},
                {#if mailbox.looked}last looked at <When time={mailbox.looked} />{:else}not looked at yet{/if}{mailbox.trouble
                  ? `: ${mailbox.trouble}`
                  : ''}
              </p>
            {/each}
            {#if result && result !== 'asking'}
              <p class={['mt-1 text-sm', result.reached ? 'text-accent' : 'font-semibold']} role="status">
                {result.reached ? 'It answers' : 'It doesn’t work'}: {result.detail}
              </p>
            {/if}
            {#if toolsOf(connection).length}
              <p class="mt-2 flex flex-wrap gap-x-3 gap-y-1 text-sm">
                {#each toolsOf(connection) as tool (tool.name)}
                  <button
                    class={['cursor-pointer text-accent underline', chosen?.name === tool.name && 'font-semibold']}
                    onclick={() => (chosen = tool)}>{tool.name}</button
                  >
                {/each}
              </p>
            {/if}
            <div class="mt-2"><StopAtOnce what="connection" name={connection.name} /></div>
          </li>
        {:else}<li class="sheet p-6 text-faint">
            No connection is set up. <code class="font-mono">servitor connection set NAME ADDRESS</code> makes one.
          </li>{/each}
      </ul>
    {/snippet}
  </Waiting>
  {#if chosen}{#key chosen.name}<ToolTry tool={chosen} />{/key}{:else if session.is('engineer')}<p class="text-faint">
      Choose a tool to see what it takes.
    </p>{/if}
</div>
