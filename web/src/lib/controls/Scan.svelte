<script lang="ts">
  import { onDestroy } from 'svelte';
  import { decoder } from './scan';

  interface Props {
    onfound: (code: string) => void;
  }
  let { onfound }: Props = $props();

  let video = $state<HTMLVideoElement>();
  let stream = $state<MediaStream | null>(null);
  let wrong = $state('');
  let going = false;

  async function start() {
    wrong = '';
    try {
      stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } });
    } catch {
      wrong = 'The browser gives no camera here. Type the number instead.';
      return;
    }
    going = true;
    const read = await decoder();
    while (going) {
      await new Promise((done) => requestAnimationFrame(done));
      if (!video || video.readyState < HTMLMediaElement.HAVE_CURRENT_DATA) continue;
      const found = await read(video);
      if (found && going) {
        stop();
        onfound(found);
      }
    }
  }

  function stop() {
    going = false;
    stream?.getTracks().forEach((t) => t.stop());
    stream = null;
  }
  onDestroy(stop);
  $effect(() => {
    if (video && stream) video.srcObject = stream;
  });
</script>

{#if stream}
  <div class="scan">
    <video bind:this={video} autoplay playsinline muted aria-label="Camera"></video>
    <button type="button" class="press" onclick={stop}>Stop the camera</button>
  </div>
{:else}
  <button type="button" class="press start" onclick={() => void start()}>Scan</button>
{/if}
{#if wrong}<p role="alert">{wrong}</p>{/if}

<style>
  .scan {
    grid-column: 1 / -1;
    grid-row: 3;
    display: grid;
    gap: 6px;
  }
  video {
    width: 100%;
    max-height: 240px;
    background: #000;
    object-fit: cover;
  }
  .press {
    min-height: 44px;
  }
  .press.start {
    grid-row: 1;
    grid-column: 2;
  }
</style>
