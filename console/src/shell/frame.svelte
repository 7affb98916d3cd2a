<script lang="ts">
  import type { Snippet } from 'svelte';
  import { asked } from '../approvals/asked.svelte';
  import { live } from '../api/live.svelte';
  import { route } from '../router';
  import KeysDialog from './keys-dialog.svelte';
  import { session } from './session.svelte';

  let { children }: { children: Snippet } = $props();

  const PLACES = $derived(
    [
      session.house && ['/today', 'Today'],
      ['/cases', session.staff ? 'Cases' : 'My cases'],
      session.staff && ['/runs', 'Runs'],
      session.staff && ['/approvals', 'Approvals'],
      session.is('resolver', 'engineer') && ['/intake', 'Intake'],
      session.is('engineer') && ['/handbook', 'Handbook'],
      session.is('engineer', 'approver', 'resolver', 'auditor') && ['/agents', 'Agents'],
      session.house && ['/could-do', 'Could do'],
      session.is('engineer', 'admin') && ['/connections', 'Connections'],
      ['/ask', 'Ask'],
    ].filter((place) => place !== false),
  );

  $effect(() => (session.staff ? asked.follow() : undefined));

  function here(path: string): boolean {
    return route.pathname.startsWith(path) || (path === '/today' && route.pathname === '/');
  }
</script>

<svelte:head><title>{asked.titled(PLACES.find(([path]) => here(path!))?.[1] ?? 'Nothing here')}</title></svelte:head>

<div class="flex min-h-screen flex-col">
  <header class="border-b border-line bg-sheet">
    <div
      class={['mx-auto flex flex-wrap', here('/handbook') ? 'max-w-[110rem]' : 'max-w-6xl', 'items-baseline gap-x-6 gap-y-1 px-4 py-2.5']}
    >
      <a href="/" class="flex items-baseline gap-2 font-semibold text-ink no-underline">
        <img src="/mark.svg" alt="" class="h-4 w-4 self-center" />Servitor
      </a>
      <nav aria-label="Places" class="flex flex-wrap gap-x-4 gap-y-1 whitespace-nowrap">
        {#each PLACES as [path, title] (path)}
          <a
            href={path}
            aria-current={here(path!) ? 'page' : undefined}
            class={['pb-0.5 no-underline', here(path!) ? 'border-b-2 border-accent font-semibold text-ink' : 'text-faint']}
            >{title}{#if path === '/approvals' && asked.count}<span class="ml-1 rounded-sm bg-signal-soft px-1 text-sm text-signal"
                >{asked.count}</span
              >{/if}</a
          >
        {/each}
      </nav>
      <div class="ml-auto flex items-baseline gap-4 text-sm">
        {#if !live.connected}<span class="text-faint" role="status">not live</span>{/if}
        <KeysDialog />
        <span>{session.value?.name}</span>
        <button class="cursor-pointer text-accent underline" onclick={() => session.signOut()}>sign out</button>
      </div>
    </div>
  </header>
  <main class={['mx-auto w-full grow px-4', here('/handbook') ? 'max-w-[110rem] py-4' : 'max-w-6xl py-6']}>{@render children()}</main>
</div>
