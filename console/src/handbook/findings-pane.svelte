<script lang="ts">
  import type { Finding } from '../api/client';

  let { findings, path, onGo }: { findings: Finding[]; path: string; onGo: (finding: Finding) => void } = $props();

  const here = $derived(findings.filter((finding) => finding.place.file === path));
  const elsewhere = $derived(findings.filter((finding) => finding.place.file !== path));
</script>

{#snippet list(items: Finding[], withFile: boolean)}
  <ul class="space-y-1">
    {#each items as finding, index (index)}
      <li>
        <button class="w-full cursor-pointer rounded-sm px-2 py-1 text-left hover:bg-accent-soft" onclick={() => onGo(finding)}>
          <span class="text-sm text-faint">
            <span class={finding.severity === 'error' ? 'font-semibold text-ink' : ''}>{finding.severity}</span>,
            {withFile ? finding.place.file + ', ' : ''}line {finding.place.line}, {finding.code}
          </span>
          <span class="block">{finding.what} <span class="text-faint">{finding.remedy}</span></span>
        </button>
      </li>
    {/each}
  </ul>
{/snippet}

{#if findings.every((finding) => finding.severity !== 'error')}
  <p class="mb-2 text-faint">{findings.length ? 'No errors' : 'Nothing found'}: this handbook can be published.</p>
{/if}
{#if findings.length}
  {#if here.length}{@render list(here, false)}{:else}<p class="text-faint">Nothing found in this file.</p>{/if}
  {#if elsewhere.length}
    <h3 class="mt-4 mb-1 font-semibold">In other files</h3>
    {@render list(elsewhere, true)}
  {/if}
{/if}
