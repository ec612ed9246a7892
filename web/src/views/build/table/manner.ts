/** How she likes her table: sound, voice, side, size of type. Kept in this browser. */
import { useState } from "react";
import { keep, kept } from "../../../parts/store";

export interface Manner {
  sound: boolean;
  voice: boolean;
  left: boolean;
  large: boolean;
}

const KEY = "anastrata-table-manner";
const USUAL: Manner = { sound: true, voice: false, left: false, large: false };

export const MANNERS: readonly (readonly [keyof Manner, string])[] = [
  ["sound", "A sound when something is dry"],
  ["voice", "Read each step aloud"],
  ["left", "Left-handed"],
  ["large", "Larger type"],
];

export function useManner(): [Manner, (name: keyof Manner) => void] {
  const [manner, set] = useState(() => ({ ...USUAL, ...kept<Partial<Manner>>(KEY, {}) }));
  return [
    manner,
    (name) => {
      const next = { ...manner, [name]: !manner[name] };
      keep(KEY, next);
      set(next);
    },
  ];
}

/** By the browser's own voice, where it has one. */
export function say(text: string): void {
  if (!("speechSynthesis" in window)) return;
  window.speechSynthesis.cancel();
  window.speechSynthesis.speak(new SpeechSynthesisUtterance(text));
}

/** Two soft notes; also as a notice where the page sleeps and the browser allows it. */
export function ring(what: string): void {
  try {
    const audio = new AudioContext();
    [660, 880].forEach((pitch, n) => {
      const note = audio.createOscillator();
      const volume = audio.createGain();
      note.frequency.value = pitch;
      volume.gain.setValueAtTime(0.0001, audio.currentTime + n * 0.35);
      volume.gain.exponentialRampToValueAtTime(0.25, audio.currentTime + n * 0.35 + 0.03);
      volume.gain.exponentialRampToValueAtTime(0.0001, audio.currentTime + n * 0.35 + 0.6);
      note.connect(volume).connect(audio.destination);
      note.start(audio.currentTime + n * 0.35);
      note.stop(audio.currentTime + n * 0.35 + 0.65);
      if (n === 1) note.onended = () => void audio.close();
    });
  } catch {
    // no sound to be had here: the clock is seen
  }
  if (document.hidden && "Notification" in window && Notification.permission === "granted")
    new Notification(what, { tag: "anastrata-dry" });
}
