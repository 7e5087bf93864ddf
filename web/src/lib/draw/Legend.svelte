<script lang="ts">
  import Stick from './Stick.svelte';
</script>

<ul class="legend" aria-label="Key to the marks">
  <li><Stick level={0} label="" /> Steady</li>
  <li><Stick level={1} label="" /> Watch</li>
  <li><Stick level={2} label="" /> Act</li>
  <li><Stick level={3} label="" /> Stop</li>
  <li><Stick level={null} state="not_measured" label="" /> not measured</li>
  <li><Stick level={null} state="planned" label="" /> due</li>
  <li><Stick level={0} signed label="" /> signed</li>
</ul>

<style>
  .legend {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 14px;
    margin-left: auto;
    font-size: 13px;
    color: var(--muted);
  }
  li {
    display: flex;
    align-items: center;
    gap: 5px;
  }
</style>
