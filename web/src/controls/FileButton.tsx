import { FileUp } from "lucide-react";
import { useRef } from "react";

interface Props {
  label: string;
  accept: string;
  testId: string;
  title?: string;
  multiple?: boolean;
  onFiles: (files: File[]) => void;
}

/** A button that asks for files. */
export function FileButton({ label, accept, testId, title, multiple, onFiles }: Props) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <>
      <button
        type="button"
        className="btn btn-xs max-w-full"
        title={title ?? label}
        onClick={() => picker.current?.click()}
      >
        <FileUp size={13} className="shrink-0" /> <span className="truncate">{label}</span>
      </button>
      <input
        ref={picker}
        type="file"
        accept={accept}
        multiple={multiple}
        className="hidden"
        aria-label={label}
        data-testid={testId}
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          event.target.value = "";
          if (files.length > 0) onFiles(files);
        }}
      />
    </>
  );
}
