<script lang="ts">
  import { mine } from '../mine.svelte';
  import type { Schemas } from '../api/client';
  import Stick from '../draw/Stick.svelte';
  import KnownFaults from '../state/KnownFaults.svelte';
  import Control from './Control.svelte';
  import Outlook from './Outlook.svelte';
  import { LEVELS, computed, dayYear, levelWord, meter } from '../words';

  interface Props {
    engine: Schemas['EngineOut'];
    at: number;
  }
  let { engine, at }: Props = $props();

  const chosen = $derived(engine.samples[at]);
  const readings = $derived(
    chosen
      ? engine.lanes.flatMap((l) => {
          const p = l.points.find((q) => q.sample === chosen.sample);
          return p ? [{ lane: l, p }] : [];
        })
      : [],
  );
  const facts = $derived(
    [
      ['Model', `${engine.model || 'not given'}, ${engine.engine_class.replace('_', ' ')}`],
      ['Layout', engine.layout],
      ['Bearings', engine.bearing_type],
      ['Parts', engine.materials.replaceAll(';', '; ').replaceAll('=', ' ')],
      ['Oil', engine.oil],
      [
        'Holds',
        engine.oil_total_l
          ? `${mine.says(engine.oil_total_l, 'L')} in all, ${engine.sump_l === null ? '?' : mine.says(engine.sump_l, 'L')} at a change`
          : '',
      ],
      ['Allowed', engine.allowed_grades.join(', ')],
      [
        'Drain',
        `${meter(engine.nominal_drain, engine.unit)} nominal${
          engine.nominal_drain_days === null ? '' : `, ${engine.nominal_drain_days} days at the latest`
        }`,
      ],
      ['Sampled', engine.rules.join('; ')],
      ['Serial number', engine.serial_number],
    ].filter(([, v]) => v),
  );
  const what = (d: Schemas['Decision']): string => {
    if (d.kind === 'sign_off') return `signed ${d.sample} ${levelWord(d.level)}`;
    if (d.kind === 'withdraw') return `withdrew the sign-off of ${d.sample}`;
    if (d.kind === 'amendment') return 'answered an amended report';
    if (d.run_state === 'hold') return 'held: do not run';
    const ends = [
      d.until_dial === null || d.until_dial === undefined ? '' : meter(d.until_dial, engine.unit),
      d.until_on ? dayYear(d.until_on) : '',
    ].filter(Boolean);
    if (d.run_state === 'restrict') return `may run until ${ends.join(' or ')}`;
    return 'released to run';
  };
</script>

<aside class="side" aria-label="Readout and facts">
  {#if chosen}
    <h2>
      <Stick level={chosen.level} signed={chosen.signed} height={18} />
      <a href="/judge/{encodeURIComponent(chosen.sample)}">Sample {chosen.sample}</a>
    </h2>
    <p class="muted">{dayYear(chosen.on)} at {meter(chosen.dial, engine.unit)}</p>
    <table class="readout figure">
      <thead class="sr-only"><tr><th>Reading</th><th>Value</th><th>Rate</th></tr></thead>
      <tbody>
        {#each readings as { lane, p } (lane.column)}
          <tr class={p.level ? LEVELS[p.level].toLowerCase() : ''}>
            <td>{lane.symbol}</td>
            <td class="num">{p.text}</td>
            <td class="unit">{lane.unit}</td>
            <td class="num">{p.rate !== null && lane.channel === 'wear' ? `${computed(p.rate)}/100` : ''}</td>
          </tr>
        {/each}
      </tbody>
    </table>
  {:else}
    <p class="muted">No sample yet.</p>
  {/if}
  <Outlook rows={engine.outlook} oil={engine.oil_life} />
  <Control rows={engine.control} />
  <h2>Facts</h2>
  <dl>
    {#each facts as [k, v] (k)}<dt class="muted">{k}</dt>
      <dd>{v}</dd>{/each}
  </dl>
  {#if engine.known_faults.length}
    <h2>Known of this model</h2>
    <KnownFaults faults={engine.known_faults} />
  {/if}
  <h2>Decided</h2>
  <ul class="trail">
    {#each engine.trail.slice(0, 12) as d (d.id)}
      <li>
        <span class="muted">{dayYear(d.decided_at)}</span>
        {d.decided_by}
        {what(d)}{#if d.reason}: “{d.reason}”{/if}{#if d.found}&ensp;Found: {d.found} Done: {d.done}{/if}{#if d.imported_by}&ensp;<span
            class="muted">imported by {d.imported_by}</span
          >{/if}
      </li>
    {:else}<li class="muted">Nothing decided yet.</li>
    {/each}
  </ul>
</aside>

<style>
  .side {
    border-left: 1px solid var(--line);
    padding: 12px 16px;
    overflow: auto;
    display: grid;
    gap: 8px;
    grid-template-columns: minmax(0, 1fr);
    align-content: start;
    font-size: 13px;
  }
  h2 {
    display: flex;
    gap: 6px;
    align-items: center;
    border-top: 1px solid var(--line);
    padding-top: 8px;
  }
  h2:first-child {
    border-top: none;
    padding-top: 0;
  }
  .readout {
    font-size: 12px;
    width: 100%;
  }
  .readout td {
    padding: 0 4px 0 0;
    line-height: 17px;
  }
  .readout td:last-child {
    padding-right: 0;
  }
  .num {
    text-align: right;
  }
  .unit {
    white-space: nowrap;
    color: var(--muted);
    font-size: 11px;
  }
  .watch {
    color: var(--watch);
    font-weight: 700;
  }
  .act {
    color: var(--act);
    font-weight: 700;
  }
  dl {
    display: grid;
    grid-template-columns: 66px 1fr;
    gap: 2px 8px;
  }
  .trail {
    display: grid;
    gap: 3px;
  }
</style>
