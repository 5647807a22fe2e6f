// The proof cloth: lettered squares with an up arrow, drawn once.
import { CanvasTexture, RepeatWrapping, SRGBColorSpace } from "three";

export function proofCloth(): CanvasTexture {
  const n = 16, px = 128;
  const canvas = document.createElement("canvas");
  canvas.width = canvas.height = n * px;
  const g = canvas.getContext("2d")!;
  for (let r = 0; r < n; r++) {
    for (let c = 0; c < n; c++) {
      const dark = (r + c) % 2 === 0;
      const x = c * px, y = (n - 1 - r) * px;
      g.fillStyle = dark ? "#6F8196" : "#F3ECD9";
      g.fillRect(x, y, px, px);
      g.strokeStyle = dark ? "#8496AA" : "#DDD3BB";
      g.lineWidth = 2;
      for (let k = 1; k < 4; k++) {
        g.beginPath(); g.moveTo(x + k * px / 4, y); g.lineTo(x + k * px / 4, y + px); g.moveTo(x, y + k * px / 4); g.lineTo(x + px, y + k * px / 4); g.stroke();
      }
      g.fillStyle = g.strokeStyle = dark ? "#FDFCF8" : "#3F5873";
      g.font = "600 44px 'Barlow Condensed', sans-serif";
      g.textAlign = "center";
      g.fillText(String.fromCharCode(65 + c) + (r + 1), x + px / 2, y + px * 0.9);
      g.lineWidth = 7;
      g.beginPath(); g.moveTo(x + px / 2, y + px * 0.52); g.lineTo(x + px / 2, y + px * 0.14);
      g.moveTo(x + px * 0.38, y + px * 0.28); g.lineTo(x + px / 2, y + px * 0.12); g.lineTo(x + px * 0.62, y + px * 0.28); g.stroke();
    }
  }
  const t = new CanvasTexture(canvas);
  t.wrapS = t.wrapT = RepeatWrapping;
  t.colorSpace = SRGBColorSpace;
  t.anisotropy = 8;
  return t;
}
