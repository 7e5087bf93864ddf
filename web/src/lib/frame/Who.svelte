<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { api, ApiError, body, type Schemas } from '../api/client';
  import { refresh, usePeople } from '../api/queries';
  import { capital, choices, TERMS } from '../terms';
  import { mine } from '../mine.svelte';
  import type { Dimension } from '../units';

  interface Props {
    person: Schemas['Person'] | null;
    known: boolean;
  }
  let { person, known }: Props = $props();

  const people = usePeople();
  const client = useQueryClient();
  let open = $state(false);
  let wrong = $state('');
  let name = $state('');
  type Role = Schemas['NewPerson']['role'];
  // The very first person may be any but an administrator; roles above technician are an administrator's to give.
  const first = $derived(people.data?.length === 0);
  const gives = $derived(person?.role === 'admin');
  const roles = $derived(
    choices('roles').filter((r) => r.code !== 'admin' && (first || gives || r.code === 'technician')),
  );
  let chosen = $state<Role | null>(null);
  const role = $derived<Role>(chosen ?? (first ? 'analyst' : 'technician'));
  const shown = $derived(open || (known && person === null));

  async function be(id: number) {
    try {
      await body(api.POST('/api/session', { body: { person: id } }));
      open = false;
      wrong = '';
      await refresh(client);
    } catch (error) {
      wrong = error instanceof ApiError ? error.message : 'That did not work.';
    }
  }

  async function leave() {
    try {
      await body(api.DELETE('/api/session'));
      open = false;
      await refresh(client);
    } catch (error) {
      wrong = error instanceof ApiError ? error.message : 'That did not work.';
    }
  }

  const DIMENSIONS = [...new Set(TERMS.units.map((u) => u.dimension))];
  async function have(what: Dimension, chosen: string) {
    try {
      await body(api.PUT('/api/me/{what}', { params: { path: { what } }, body: { chosen } }));
      await refresh(client);
    } catch (error) {
      wrong = error instanceof ApiError ? error.message : 'That did not work.';
    }
  }

  async function give(to: string, given: Role) {
    try {
      await body(
        api.PUT('/api/people/{name}/role', { params: { path: { name: to } }, body: { role: given } }),
      );
      await refresh(client);
    } catch (error) {
      wrong = error instanceof ApiError ? error.message : 'That did not work.';
    }
  }

  async function add(event: SubmitEvent) {
    event.preventDefault();
    try {
      const added = await body(api.POST('/api/people', { body: { name: name.trim(), role } }));
      name = '';
      await be(added.id);
    } catch (error) {
      wrong = error instanceof ApiError ? error.message : 'That did not work.';
    }
  }
</script>

<div class="who">
  <button class="now" aria-expanded={shown} onclick={() => (open = !open)}>
    {person ? `${person.name} · ${person.role}` : 'Who are you?'}
  </button>
  {#if shown}
    <section class="list" aria-label="Who are you?">
      <h2>Who are you?</h2>
      <p class="muted">Everything you decide is kept under your name.</p>
      {#each people.data ?? [] as p (p.id)}
        <button class="press" onclick={() => be(p.id)}>{p.name} <span class="muted">{p.role}</span></button>
        {#if gives && p.role !== 'admin'}<label
            >Role of {p.name}
            <select
              class="field"
              value={p.role}
              onchange={(e) => void give(p.name, e.currentTarget.value as Role)}
            >
              {#each roles as r (r.code)}<option value={r.code}>{r.words}</option>{/each}
            </select></label
          >{/if}
      {/each}
      {#if person || people.data?.length === 0}<form onsubmit={add}>
          <label>Somebody else<input class="field" bind:value={name} required maxlength="60" /></label>
          <label
            >Role
            <select class="field" bind:value={() => role, (r) => (chosen = r)}>
              {#each roles as r (r.code)}
                <option value={r.code}>{r.words}</option>
              {/each}
            </select>
          </label>
          <button class="press">Add and continue</button>
        </form>{:else}<p class="muted">
          Not on the list? Somebody who is can add you, or <code>./keen person</code> at the machine.
        </p>{/if}
      {#if wrong}<p role="alert">{wrong}</p>{/if}
      {#if person}
        <details>
          <summary>My units</summary>
          {#each DIMENSIONS as d (d)}
            <label
              >{capital(d)}
              <select
                class="field"
                value={mine.of(d) || TERMS.units.find((u) => u.dimension === d)?.code}
                onchange={(e) => void have(d, e.currentTarget.value)}
              >
                {#each TERMS.units.filter((u) => u.dimension === d) as u (u.code)}<option value={u.code}
                    >{u.words}</option
                  >{/each}
              </select></label
            >
          {/each}
        </details>
        <button class="press" onclick={() => (open = false)}>Stay {person.name}</button>
        <button class="press" onclick={leave}>Leave: nobody is here</button>{/if}
    </section>
  {/if}
</div>

<style>
  .who {
    position: relative;
  }
  .now {
    white-space: nowrap;
    color: var(--muted);
    font-size: 13px;
    cursor: pointer;
    min-height: 30px;
    text-decoration: underline;
    text-decoration-color: var(--line);
  }
  .list {
    position: absolute;
    z-index: 30;
    right: 0;
    top: 38px;
    width: 290px;
    padding: 14px;
    background: var(--paper-raised);
    border: 1px solid var(--ink);
    border-radius: 3px;
    display: grid;
    gap: 8px;
  }
  .list .press {
    text-align: left;
  }
  form {
    display: grid;
    gap: 6px;
    border-top: 1px solid var(--line);
    padding-top: 8px;
  }
  label {
    display: grid;
    font-size: 13px;
    color: var(--muted);
  }
</style>
