<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';
  import { day } from '../words';
  import { DELAYS, MISCHIEF, sendable, whereabouts, type Mischief } from './way';

  interface Props {
    inbox: Schemas['Inbox'];
  }
  let { inbox }: Props = $props();

  const act = new Act(useQueryClient());
  const here = $derived(sendable(inbox.out));
  let left = $state<string[]>([]);
  const chosen = $derived(here.map((b) => b.sample).filter((s) => !left.includes(s)));
  let to = $state('');
  let delay = $state(0);
  let mischief = $state<Mischief>('now_and_then');
  const simulated = $derived(to === inbox.simulated);

  const toggle = (s: string) => (left = left.includes(s) ? left.filter((x) => x !== s) : [...left, s]);

  function send() {
    const samples = chosen;
    const on = inbox.today;
    void act.run(
      () =>
        simulated
          ? body(
              api.POST('/api/orders', {
                body: { id: crypto.randomUUID(), samples, delay_s: delay, mischief, on },
              }),
            )
          : body(
              api.POST('/api/bottles/steps', {
                body: { bottles: steps(samples), step: 'sent', on, laboratory: to, note: '' },
              }),
            ),
      `${samples.length} bottle${samples.length === 1 ? '' : 's'} sent to ${to}.`,
    );
  }

  const steps = (samples: string[]) => samples.map((sample) => ({ id: crypto.randomUUID(), sample }));

  function gone(sample: string, step: 'lost' | 'broken' | 'found' | 'received') {
    void act.run(
      () =>
        body(
          api.POST('/api/bottles/steps', {
            body: { bottles: steps([sample]), step, on: inbox.today, laboratory: '', note: '' },
          }),
        ),
      `Bottle ${sample}: ${step}.`,
    );
  }
</script>

<section aria-label="Under way">
  <h2>Under way</h2>
  {#if act.said}<p role="status" class="said">{act.said}</p>{/if}
  {#if act.wrong}<p role="alert">{act.wrong}</p>{/if}
  {#if !inbox.out.length}
    <p class="muted">
      No bottle is under way. Draw the next <a href="/collect">round</a>; its bottles are listed here until
      their figures are in.
    </p>
  {:else}
    <div class="across">
      <table class="plain-table">
        <thead
          ><tr
            ><th><span class="sr-only">Send</span></th><th>Bottle</th><th>Of</th><th>Drawn</th><th class="num"
              >Age</th
            ><th>Where</th><th><span class="sr-only">Do</span></th></tr
          ></thead
        >
        <tbody>
          {#each inbox.out as b (b.sample)}
            <tr>
              <td
                >{#if b.state === 'drawn'}<input
                    type="checkbox"
                    aria-label="Send {b.sample}"
                    checked={chosen.includes(b.sample)}
                    onchange={() => toggle(b.sample)}
                  />{/if}</td
              >
              <td class="figure"><b>{b.sample}</b></td>
              <td
                >{#if b.engine}<a href="/engine/{encodeURIComponent(b.engine)}">{b.engine}</a>{:else}fresh
                  {b.oil}{/if}
                {#if b.resample_of}<span class="muted">again, after {b.resample_of}</span>{/if}</td
              >
              <td>{day(b.drawn_on)}</td>
              <td class="num">{b.age_days}&nbsp;d</td>
              <td class:late={b.late_days > 0}>{whereabouts(b)}</td>
              <td class="do">
                {#if b.state === 'lost' || b.state === 'broken'}
                  <button class="press" onclick={() => gone(b.sample, 'found')}>Found</button>
                {:else}
                  <a class="press" href="/bottles/{encodeURIComponent(b.sample)}">Type figures</a>
                  <button class="press" aria-label="{b.sample} is lost" onclick={() => gone(b.sample, 'lost')}
                    >Lost</button
                  >
                  <button
                    class="press"
                    aria-label="{b.sample} is broken"
                    onclick={() => gone(b.sample, 'broken')}>Broken</button
                  >
                {/if}
              </td>
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
    {#if here.length}
      <div class="send">
        <label
          >Send {chosen.length} to
          <input class="field" list="laboratories" bind:value={to} maxlength="60" />
          <datalist id="laboratories">
            {#each inbox.laboratories.filter((l) => l !== inbox.simulated) as l (l)}<option value={l}
              ></option>{/each}
            <option value={inbox.simulated}></option>
          </datalist></label
        >
        {#if simulated}
          <label
            >answers
            <select class="field" aria-label="When it answers" bind:value={delay}
              >{#each DELAYS as d (d.s)}<option value={d.s}>{d.word}</option>{/each}</select
            ></label
          >
          <label
            >and
            <select class="field" aria-label="What may go wrong" bind:value={mischief}
              >{#each MISCHIEF as m (m.code)}<option value={m.code}>{m.word}</option>{/each}</select
            ></label
          >
        {/if}
        <button class="press first" disabled={!to.trim() || !chosen.length || act.busy} onclick={send}
          >Send</button
        >
        {#if simulated}<p class="muted">
            Its figures are invented. They come back as a file, through the same import as any laboratory's.
          </p>{/if}
      </div>
    {/if}
  {/if}
</section>

<style>
  section {
    display: grid;
    gap: 8px;
  }
  .late {
    color: var(--act);
    font-weight: 650;
  }
  .do {
    display: flex;
    gap: 4px;
    justify-content: flex-end;
  }
  .do a {
    text-decoration: none;
  }
  .send {
    display: flex;
    flex-wrap: wrap;
    align-items: end;
    gap: 8px 14px;
  }
  .send label {
    display: grid;
    font-size: 13px;
    color: var(--muted);
  }
  .send p {
    flex-basis: 100%;
    font-size: 13px;
  }
  input[type='checkbox'] {
    width: 20px;
    height: 20px;
  }
  @media (max-width: 600px) {
    thead {
      display: none;
    }
    tr {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 0 8px;
      border-bottom: 1px solid var(--line);
      padding: 6px 0;
    }
    td {
      border: none;
    }
    .do {
      flex-basis: 100%;
      justify-content: flex-start;
    }
    .do .press {
      min-height: 44px;
      display: flex;
      align-items: center;
    }
  }
</style>
