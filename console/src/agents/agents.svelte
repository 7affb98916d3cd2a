<script lang="ts">
  import { api } from '../api/client';
  import { listKeys } from '../parts/list-keys';
  import { Loaded } from '../parts/loaded.svelte';
  import Waiting from '../parts/waiting.svelte';
  import Lately from './lately.svelte';
  import Models from './models.svelte';

  const agents = new Loaded(api.agents);
  $effect(() => agents.follow());
</script>

<div class="mb-4 flex flex-wrap items-baseline gap-4">
  <h1>Agents</h1>
  <p class="text-faint">Who works here, and what each did in the last seven days in the cases of your desks.</p>
  <a class="ml-auto text-sm" href="/agreement">How far people do what is proposed</a>
</div>

<Waiting loaded={agents}>
  {#snippet children(all)}
    {#if all.length}
      <ul class="grid gap-4 lg:grid-cols-2" use:listKeys>
        {#each all as agent (agent.name)}
          <li class="sheet p-4">
            <div class="flex flex-wrap items-baseline gap-x-3">
              <h2><a data-item href="/agents/{agent.name}">{agent.title}</a></h2>
              <span class="text-sm text-faint">{agent.desk} · {agent.model}</span>
              {#if agent.works === 'supervised'}<span class="text-sm text-faint">· supervised: people are asked about every change</span>
              {:else if agent.works === 'shadow'}<span class="text-sm text-faint">· in shadow: nothing leaves, people do it by hand</span
                >{/if}
            </div>
            <p class="mt-1">{agent.job}</p>
            <p class="mt-1 text-sm text-faint">{agent.pages.length ? agent.pages.join(' · ') : 'Works no page yet.'}</p>
            <Lately lately={agent.lately} />
          </li>
        {/each}
      </ul>
    {:else}<p class="sheet p-6 text-faint">
        Nobody works here yet. An agent is a file of <span class="font-mono">agents/</span> in the handbook.
      </p>{/if}
  {/snippet}
</Waiting>

<Models />
