import { useEffect, useState } from 'react';

interface QrCodeProps {
  readonly value: string;
  readonly label: string;
  readonly sizePx?: number;
}

/** A code for a camera; drawn dark on light in either light, since cameras want it so. The library comes when needed. */
export function QrCode({ value, label, sizePx = 180 }: QrCodeProps) {
  const [svg, setSvg] = useState<string | null>(null);
  useEffect(() => {
    let isOver = false;
    void import('qrcode').then(async ({ default: codes }) => {
      const drawn = await codes.toString(value, { type: 'svg', margin: 2, errorCorrectionLevel: 'M' });
      if (!isOver) setSvg(drawn);
    });
    return () => {
      isOver = true;
    };
  }, [value]);
  if (!svg) return <span className="block bg-sunk" style={{ width: sizePx, height: sizePx }} />;
  return (
    <img
      src={`data:image/svg+xml;utf8,${encodeURIComponent(svg)}`}
      alt={label}
      width={sizePx}
      height={sizePx}
      className="rounded-sm border border-edge bg-white"
    />
  );
}
