/** Reads a code from a picture of the camera: the browser's own reader where it has one, else the one that ships here. */
export type Read = (video: HTMLVideoElement) => Promise<string | null>;

/** What a label says, as a bottle's code; null when it cannot be one. */
export function bottleCode(text: string): string | null {
  const code = text.trim();
  // eslint-disable-next-line no-control-regex
  return /^[^\x00-\x1f/\\?#]{1,60}$/.test(code) ? code : null;
}

interface Detector {
  detect(source: HTMLVideoElement): Promise<{ rawValue: string }[]>;
}

export async function decoder(): Promise<Read> {
  const Native = (globalThis as { BarcodeDetector?: new (o: { formats: string[] }) => Detector })
    .BarcodeDetector;
  if (Native) {
    const detector = new Native({ formats: ['qr_code'] });
    return async (video) => bottleCode((await detector.detect(video).catch(() => []))[0]?.rawValue ?? '');
  }
  const { decodeQR } = await import('qr/decode.js');
  const canvas = document.createElement('canvas');
  return (video) => {
    canvas.width = video.videoWidth;
    canvas.height = video.videoHeight;
    const at = canvas.getContext('2d', { willReadFrequently: true });
    if (!at || !canvas.width) return Promise.resolve(null);
    at.drawImage(video, 0, 0);
    try {
      return Promise.resolve(bottleCode(decodeQR(at.getImageData(0, 0, canvas.width, canvas.height))));
    } catch {
      return Promise.resolve(null); // nothing readable in this picture yet
    }
  };
}
