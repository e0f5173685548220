import { Button } from "@mantine/core";
import { IconCamera } from "@tabler/icons-react";
import { useEffect, useRef, useState } from "react";
import classes from "../identify.module.css";

/** A photo of what is to be typed, large beside its field. It stays on this device and is gone with the field. */
export function FieldPhoto({ of }: { of: string }) {
  const input = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<File>();
  const [src, setSrc] = useState<string>();
  const [wrong, setWrong] = useState(false);
  const [close, setClose] = useState(false);
  useEffect(() => {
    if (!file) return;
    setWrong(false);
    const url = URL.createObjectURL(file);
    setSrc(url);
    return () => URL.revokeObjectURL(url);
  }, [file]);
  return (
    <div className={classes.fieldPhoto}>
      <input
        ref={input}
        type="file"
        accept="image/jpeg,image/png,image/webp"
        capture="environment"
        hidden
        aria-label={`Photo of the ${of}`}
        onChange={(e) => {
          setFile(e.currentTarget.files?.[0] ?? file);
          e.currentTarget.value = "";
        }}
      />
      <div className="row wrap">
        <Button
          variant="subtle"
          size="compact-md"
          leftSection={<IconCamera size={16} />}
          onClick={() => input.current?.click()}
        >
          {src ? "Another photo" : `Photo of the ${of}`}
        </Button>
        {src && !wrong && (
          <Button variant="subtle" size="compact-md" aria-pressed={close} onClick={() => setClose(!close)}>
            {close ? "Whole photo" : "Closer"}
          </Button>
        )}
      </div>
      {wrong && <p className="trouble">The browser can't show this file. Use a JPEG, PNG or WebP picture.</p>}
      {src && !wrong && (
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reached by the keyboard
        <section className={classes.fieldPhotoFrame} aria-label={`The photo of the ${of}`} tabIndex={0}>
          <img src={src} alt={`The ${of}`} style={{ width: close ? "250%" : "100%" }} onError={() => setWrong(true)} />
        </section>
      )}
    </div>
  );
}
