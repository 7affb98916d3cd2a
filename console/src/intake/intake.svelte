<script lang="ts">
  import { api } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import Waiting from '../parts/waiting.svelte';
  import When from '../parts/when.svelte';
  import Events from './events.svelte';
  import Forms from './forms.svelte';
  import LeftOut from './left-out.svelte';
  import Paste from './paste.svelte';

  const intakes = new Loaded(api.intakes);
  $effect(() => intakes.follow());
</script>

<h1>Intake</h1>
<p class="mb-4 max-w-2xl text-faint">
  How messages of outside systems and mails become cases of your desks. Each counts once; what became no case is listed with the reason.
</p>
<Forms />
<Waiting loaded={intakes}>
  {#snippet children(all)}
    <ul class="space-y-4">
      {#each all as intake (intake.name)}
        <li class="sheet p-4">
          <h2>{intake.title}</h2>
          <p class="text-sm text-faint">
            {#if intake.mailbox}
              By mail, <code class="font-mono">{intake.mailbox.folder}</code> of the connection {intake.mailbox.connection};
              {#if intake.mailbox.looked}looked at <When time={intake.mailbox.looked} />{:else}not looked at yet{/if}.
            {:else if intake.schedule}
              By the schedule <code class="font-mono">{intake.schedule.cron}</code>
              ({#if intake.schedule.next}next <When time={intake.schedule.next} />{:else}it never fires again{/if}).
            {:else if intake.file}
              Lines of the file <code class="font-mono break-all">{intake.file.path}</code>, read up to byte {intake.file.read}
              (<When time={intake.file.looked} />).
            {:else}
              Posted to <code class="font-mono break-all">/api/hooks/{intake.name}</code>,
              {#if intake.signedBy}signed with the secret of the connection {intake.signedBy}{:else}with somebody’s token{/if}.
            {/if}
            Becomes a case of the kind ‘{intake.kind}’.
          </p>
          {#if intake.mailbox?.trouble || intake.file?.trouble}<p class="mt-1 font-semibold">
              Something is wrong with it: {intake.mailbox?.trouble || intake.file?.trouble}.
            </p>{/if}
          {#if intake.mailbox}<LeftOut intake={intake.name} />{:else}<Events intake={intake.name} />{#if intake.from === 'webhook'}<Paste
                intake={intake.name}
                onSent={() => intakes.refresh()}
              />{/if}{/if}
        </li>
      {:else}<li class="sheet p-6 text-faint">
          Nothing comes in by itself at your desks. A file in the handbook’s folder intake makes it so.
        </li>{/each}
    </ul>
  {/snippet}
</Waiting>
