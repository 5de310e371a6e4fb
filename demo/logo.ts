import { createCanvas } from "@napi-rs/canvas";

/** The company's mark, invented: a ferry's bow over three waves. @returns a PNG picture as a data URL */
export function demoLogo(): string {
  const size = 160;
  const canvas = createCanvas(size, size);
  const draw = canvas.getContext("2d");
  draw.fillStyle = "#0E5A52";
  draw.beginPath();
  draw.moveTo(24, 70);
  draw.lineTo(136, 70);
  draw.lineTo(112, 104);
  draw.lineTo(48, 104);
  draw.closePath();
  draw.fill();
  draw.fillRect(54, 40, 40, 24);
  draw.fillStyle = "#C08A2B";
  draw.fillRect(76, 16, 12, 20);
  draw.strokeStyle = "#0E5A52";
  draw.lineWidth = 7;
  draw.lineCap = "round";
  for (const y of [120, 138]) {
    draw.beginPath();
    draw.moveTo(16, y);
    for (let x = 16; x < 144; x += 32) {
      draw.quadraticCurveTo(x + 8, y - 10, x + 16, y);
      draw.quadraticCurveTo(x + 24, y + 10, x + 32, y);
    }
    draw.stroke();
  }
  return `data:image/png;base64,${canvas.toBuffer("image/png").toString("base64")}`;
}
