import { useRef } from "react";

/** A button that reads a file of this machine. */
export function FileButton(props: {
  /** What the file is called, for assistive technology. */
  label: string;
  words: string;
  accept?: string;
  className?: string;
  onFile: (chosen: File) => void;
}) {
  const file = useRef<HTMLInputElement>(null);
  return (
    <>
      <button type="button" className={props.className ?? "button"} onClick={() => file.current?.click()}>
        {props.words}
      </button>
      <input
        ref={file}
        type="file"
        accept={props.accept}
        className="sr-only"
        aria-label={props.label}
        tabIndex={-1}
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = "";
          if (chosen) props.onFile(chosen);
        }}
      />
    </>
  );
}
