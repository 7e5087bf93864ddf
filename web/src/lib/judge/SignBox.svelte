<script lang="ts">
  import { tick } from 'svelte';
  import type { Level, Schemas } from '../api/client';
  import { dayYear, LEVELS } from '../words';

  interface Props {
    sample: Schemas['SampleOut'];
    busy: boolean;
    wrong: string;
    onsign: (level: Level, reason: string, note: string) => void;
    onundo: () => void;
    canUndo: boolean;
  }
  let { sample, busy, wrong, onsign, onundo, canUndo }: Props = $props();

  let choosing = $state<Level | null>(null);
  let noting = $state(false);
  let reason = $state('');
  let note = $state('');
  let reasonField = $state<HTMLInputElement>();
  let noteField = $state<HTMLTextAreaElement>();
  // Signed on these very figures, by whoever it was: the form is closed until somebody asks for it.
  let again = $state(false);
  const signed = $derived(
    sample.decision?.kind === 'sign_off' && sample.basis_changed === null ? sample.decision : null,
  );
  const closed = $derived(signed !== null && !again);
  $effect(() => {
    if (closed) cancel();
  });
  const proposed = $derived(sample.verdict?.level ?? null);
  const lacksReason = $derived(choosing !== null && choosing !== proposed && !reason.trim());

  export async function choose(level: Level) {
    if (proposed === null || closed) return;
    choosing = level;
    await tick();
    reasonField?.focus();
  }
  export async function openNote() {
    if (closed) return;
    noting = true;
    await tick();
    noteField?.focus();
  }
  export function accept() {
    if (proposed !== null && !busy && !closed) onsign(proposed, '', note);
  }
  export function cancel() {
    choosing = null;
    noting = false;
  }

  function confirm(event: SubmitEvent) {
    event.preventDefault();
    if (choosing === null || busy || lacksReason) return;
    onsign(choosing, reason, note);
  }

  const echo = $derived.by(() => {
    if (choosing === null || proposed === null) return '';
    const steps = choosing - proposed;
    if (steps === 0) return `${LEVELS[choosing]}, as proposed`;
    const size = Math.abs(steps) === 1 ? 'one notch' : `${Math.abs(steps)} notches`;
    return `${LEVELS[choosing]}, ${size} ${steps > 0 ? 'above' : 'below'} the proposed ${LEVELS[proposed]}`;
  });
</script>

<div class="sign no-print">
  {#if signed && closed}
    <p role="status">
      <b>Signed {LEVELS[signed.level ?? 0]} by {signed.decided_by}, {dayYear(signed.decided_at)}.</b>
    </p>
    <div class="row">
      {#if canUndo}<button class="press" disabled={busy} onclick={onundo}>Undo <kbd>u</kbd></button>{/if}
      <button class="press" onclick={() => (again = true)}>Sign it anew</button>
    </div>
  {/if}
  {#if choosing !== null}
    <form onsubmit={confirm}>
      <p aria-live="polite"><b>{echo}</b></p>
      <label>
        {choosing === proposed ? 'Reason, if you want one' : 'Reason, required'}
        <input
          class="field"
          bind:this={reasonField}
          bind:value={reason}
          maxlength="2000"
          onkeydown={(e) => e.key === 'Escape' && cancel()}
        />
      </label>
      <div class="row">
        <button class="press first" disabled={busy || lacksReason}>Sign {LEVELS[choosing]}</button>
        <button type="button" class="press" onclick={cancel}>Cancel</button>
      </div>
    </form>
  {/if}
  {#if noting}
    <label class="note">
      Note, kept with the sign-off
      <textarea
        class="field"
        rows="2"
        bind:this={noteField}
        bind:value={note}
        maxlength="4000"
        onkeydown={(e) => e.key === 'Escape' && noteField?.blur()}
      ></textarea>
    </label>
  {/if}
  {#if choosing === null && !closed}
    <div class="row">
      <button class="press first" disabled={proposed === null || busy} onclick={accept}>
        Accept{proposed === null ? '' : ` ${LEVELS[proposed]}`} <kbd>a</kbd>
      </button>
      <button class="press" onclick={() => void openNote()}>Note <kbd>n</kbd></button>
      {#if canUndo}<button class="press" disabled={busy} onclick={onundo}>Undo <kbd>u</kbd></button>{/if}
    </div>
    <div class="row levels" role="group" aria-label="Another level">
      {#each LEVELS as word, n (word)}
        <button class="press" disabled={proposed === null} onclick={() => void choose(n as Level)}>
          {word} <kbd>{n}</kbd>
        </button>
      {/each}
    </div>
  {/if}
  {#if wrong}<p role="alert" class="wrong">{wrong}</p>{/if}
</div>

<style>
  .sign,
  form {
    display: grid;
    gap: 8px;
  }
  /* However long the reasons are, the hand-off stays in view. */
  .sign {
    position: sticky;
    bottom: calc(var(--thumb) - 14px);
    padding: 8px 0 14px;
    background: var(--paper);
    border-top: 1px solid var(--line);
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
  }
  .levels {
    flex-wrap: nowrap;
    gap: 4px;
  }
  .levels .press {
    flex: 1;
    padding: 2px 0;
    white-space: nowrap;
    font-size: 12px;
  }
  label {
    display: grid;
    font-size: 13px;
    color: var(--muted);
  }
  .wrong {
    color: var(--act);
    font-weight: 650;
  }
</style>
