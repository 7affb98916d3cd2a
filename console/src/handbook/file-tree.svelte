<script lang="ts">
  import type { Draft, Finding } from '../api/client';
  import { inAddress } from './draft.svelte';

  let { draft, findings, current }: { draft: Draft; findings: Finding[]; current: string } = $props();

  const MARKS = { same: '', changed: 'changed', added: 'new', removed: 'taken out' };
  const TITLES: Record<string, string> = {
    runbooks: 'Pages',
    agents: 'Agents',
    mandates: 'Mandates',
    tools: 'Tools',
    kinds: 'Kinds',
    intake: 'Intake',
    '': 'House',
  };
  const folders = $derived(
    Object.entries(Object.groupBy(draft.files, (file) => (file.path.includes('/') ? file.path.slice(0, file.path.indexOf('/')) : ''))).sort(
      ([a], [b]) => Object.keys(TITLES).indexOf(a) - Object.keys(TITLES).indexOf(b),
    ),
  );

  function errors(path: string): number {
    return findings.filter((finding) => finding.place.file === path && finding.severity === 'error').length;
  }
</script>

<nav aria-label="Files of the handbook" class="space-y-3 text-sm">
  {#each folders as [folder, files] (folder)}
    <div>
      <h2 class="text-sm text-faint">{TITLES[folder] ?? folder}</h2>
      <ul>
        {#each files ?? [] as file (file.path)}
          <li>
            <a
              href="/handbook/{inAddress(file.path)}"
              aria-current={file.path === current ? 'page' : undefined}
              class={[
                'flex items-baseline gap-2 rounded-sm px-2 py-0.5 text-ink no-underline hover:bg-accent-soft',
                file.path === current && 'bg-accent-soft font-semibold',
              ]}
            >
              <span class={['min-w-0 grow truncate', file.change === 'removed' && 'line-through']}
                >{file.path.slice(folder ? folder.length + 1 : 0)}</span
              >
              {#if file.others.length}<span class="text-xs text-faint" title="{file.others.join(', ')} also works on this"
                  >✎ {file.others.length}</span
                >{/if}
              {#if errors(file.path)}<span class="rounded-sm border border-ink px-1 text-xs" title="errors">{errors(file.path)}</span>{/if}
              {#if file.conflict}<span class="text-xs font-semibold">conflict</span>{:else if file.change !== 'same'}<span
                  class="text-xs text-accent">{MARKS[file.change]}</span
                >{/if}
            </a>
          </li>
        {/each}
      </ul>
    </div>
  {/each}
</nav>
