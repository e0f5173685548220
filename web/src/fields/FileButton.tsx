import { Button, type ButtonProps } from "@mantine/core";
import type { ReactNode } from "react";
import { useRef } from "react";

type Props = ButtonProps & {
  /** What the file is, for who can't see the button beside it. */
  name: string;
  accept: string;
  onText: (text: string, file: string) => void;
  children: ReactNode;
};

/** Reads a text file that the person chooses; the same file may be chosen again. */
export function FileButton({ name, accept, onText, children, ...rest }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        accept={accept}
        hidden
        aria-label={name}
        onChange={async (e) => {
          const f = e.currentTarget.files?.[0];
          e.currentTarget.value = "";
          if (f) onText(await f.text(), f.name);
        }}
      />
      <Button {...rest} onClick={() => input.current?.click()}>
        {children}
      </Button>
    </>
  );
}
