import { FileInput } from "@mantine/core";
import { useEffect, useState } from "react";
import type { MarkPoint } from "../../api/client";
import { Band } from "../../app/Band";
import { useTitle } from "../../app/title";
import { Marker } from "./Marker";

/** Teeth counted on a photo of this device; the photo goes nowhere. */
export function LoosePhotoPage() {
  useTitle("Teeth on a photo");
  const [file, setFile] = useState<File | null>(null);
  const [picture, setPicture] = useState<{ src: string; width: number; height: number }>();
  const [trouble, setTrouble] = useState("");
  const [points, setPoints] = useState<MarkPoint[]>([]);
  useEffect(() => {
    if (!file) return;
    const src = URL.createObjectURL(file);
    const img = new Image();
    img.onload = () => {
      setTrouble("");
      setPoints([]);
      setPicture({ src, width: img.naturalWidth, height: img.naturalHeight });
    };
    img.onerror = () => setTrouble("The browser can't show this file. Use a JPEG, PNG or WebP picture.");
    img.src = src;
    return () => URL.revokeObjectURL(src);
  }, [file]);
  return (
    <>
      <Band>
        <h1>Count teeth on a photo</h1>
      </Band>
      <main id="main" className="page wide">
        <FileInput
          label="A photo of the gear, from the front"
          description="Straight on, light from the side, the whole rim in view. It stays on this device: to save it, use a unit's photos."
          placeholder="choose or take one"
          accept="image/jpeg,image/png,image/webp"
          value={file}
          onChange={setFile}
          error={trouble || undefined}
        />
        {picture && <Marker key={picture.src} {...picture} points={points} onPoints={setPoints} atOnce />}
      </main>
    </>
  );
}
