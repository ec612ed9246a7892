/** A button that asks for a file; the same file may be chosen twice. */
import Button, { type ButtonProps } from "@mui/material/Button";
import { type ReactNode, useRef } from "react";

interface Props {
  /** What the file is, for those who do not see the button. */
  what: string;
  accept: string;
  onFile: (file: File) => void;
  children: ReactNode;
  disabled?: boolean;
  variant?: ButtonProps["variant"];
  /** Ask the camera first, where there is one. */
  camera?: boolean;
  sx?: ButtonProps["sx"];
}

export function FileButton({ what, accept, onFile, children, camera, ...button }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        accept={accept}
        hidden
        {...(camera ? { capture: "environment" as const } : {})}
        aria-label={what}
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          if (file) onFile(file);
          e.target.value = "";
        }}
      />
      <Button variant="outlined" {...button} onClick={() => input.current?.click()}>
        {children}
      </Button>
    </>
  );
}
