import { encode } from "uqr";

/** An address as a code that a phone's camera opens; dark on light in both schemes. */
export function QRCode({ text, name, size = 200 }: { text: string; name: string; size?: number }) {
  const code = encode(text, { border: 4, ecc: "M" });
  const d = code.data.flatMap((row, y) => row.flatMap((dark, x) => (dark ? [`M${x} ${y}h1v1h-1z`] : []))).join("");
  return (
    <svg
      viewBox={`0 0 ${code.size} ${code.size}`}
      width={size}
      height={size}
      role="img"
      aria-label={`QR code: ${name}`}
      shapeRendering="crispEdges"
    >
      <rect width={code.size} height={code.size} fill="#fff" />
      <path d={d} fill="#000" />
    </svg>
  );
}
