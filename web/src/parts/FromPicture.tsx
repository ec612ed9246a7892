/** A colour taken from a picture of one's own, averaged over a few pixels; the picture stays on the device. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { type PointerEvent, useRef, useState } from "react";

const SIDE = 288;
const AROUND = 2;
// px to both sides of the pointer that are averaged: paper has a grain, pictures have noise

export function FromPicture({ onPick }: { onPick: (hex: string) => void }) {
  const input = useRef<HTMLInputElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [open, setOpen] = useState(false);
  const [trouble, setTrouble] = useState(false);
  const take = async (file: File | undefined) => {
    if (!file) return;
    try {
      const picture = await createImageBitmap(file);
      const scale = SIDE / Math.max(picture.width, picture.height);
      setOpen(true);
      setTrouble(false);
      const target = canvas.current;
      if (!target) return;
      target.width = Math.max(1, Math.round(picture.width * scale));
      target.height = Math.max(1, Math.round(picture.height * scale));
      target
        .getContext("2d", { willReadFrequently: true })
        ?.drawImage(picture, 0, 0, target.width, target.height);
    } catch {
      setTrouble(true);
    }
  };
  const pick = (event: PointerEvent<HTMLCanvasElement>) => {
    if (event.type === "pointermove" && event.buttons !== 1) return;
    const target = event.currentTarget;
    const box = target.getBoundingClientRect();
    const x = Math.round(((event.clientX - box.left) / box.width) * target.width);
    const y = Math.round(((event.clientY - box.top) / box.height) * target.height);
    const pixels = target
      .getContext("2d")
      ?.getImageData(x - AROUND, y - AROUND, 2 * AROUND + 1, 2 * AROUND + 1).data;
    if (!pixels) return;
    const mean = [0, 1, 2].map((c) => {
      let sum = 0;
      for (let i = c; i < pixels.length; i += 4) sum += pixels[i] ?? 0;
      return Math.round((4 * sum) / pixels.length);
    });
    onPick(`#${mean.map((v) => v.toString(16).padStart(2, "0")).join("")}`);
  };
  return (
    <Box>
      <input
        ref={input}
        type="file"
        accept="image/*"
        hidden
        aria-label="A picture to pick from"
        onChange={(e) => {
          void take(e.target.files?.[0]);
          e.target.value = "";
        }}
      />
      <Button variant="outlined" onClick={() => input.current?.click()}>
        Pick from a picture
      </Button>
      {trouble && (
        <Typography role="alert" variant="body2">
          That is not a picture that can be opened.
        </Typography>
      )}
      <canvas
        ref={canvas}
        aria-label="Press or drag on the picture to take a colour"
        onPointerDown={pick}
        onPointerMove={pick}
        style={{
          display: open ? "block" : "none",
          maxWidth: "100%",
          marginTop: 8,
          cursor: "crosshair",
          touchAction: "none",
        }}
      />
      {open && (
        <Typography variant="caption">
          Press or drag on it. The picture stays on this device; its light decides how true the colour is.
        </Typography>
      )}
    </Box>
  );
}
