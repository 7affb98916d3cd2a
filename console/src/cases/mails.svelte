<script lang="ts">
  import { api } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import When from '../parts/when.svelte';

  let { caseId }: { caseId: string } = $props();

  const mails = new Loaded(() => api.mails(caseId));
  $effect(() => void mails.refresh());
</script>

{#each (mails.value ?? []).filter((mail) => mail.became === 'case' || mail.became === 'report') as mail (mail.id)}
  <p class="text-sm">
    {mail.became === 'report' ? 'A mail server reports that a mail did not arrive:' : 'Came by mail from'}
    <span class="break-all">{mail.sender}</span>, <When time={mail.received} />:
    {#if mail.proof === 'verified'}our mail server vouches for the sender{:else}<span class="font-semibold"
        >that it is from them is only a claim</span
      >{/if}.
    <a href="/api/cases/{caseId}/mails/{mail.id}" download="{caseId}.eml">The whole mail</a>
  </p>
{/each}
