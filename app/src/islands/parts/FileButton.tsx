import type { ReactNode } from 'react';

interface Props {
  readonly label?: string;
  readonly multiple?: boolean;
  readonly disabled?: boolean;
  readonly className?: string;
  readonly onFiles: (files: File[]) => void;
  readonly children: ReactNode;
}

/** A button that asks for files. The same file may be chosen twice in a row. */
export function FileButton({ label, multiple = false, disabled = false, className = 'btn btn-xs', onFiles, children }: Props) {
  return (
    <label className={`${className} ${disabled ? 'btn-disabled' : ''}`}>
      {children}
      <input
        type="file"
        multiple={multiple}
        aria-label={label}
        className="sr-only"
        onChange={(e) => {
          const files = [...(e.target.files ?? [])];
          if (files.length > 0) onFiles(files);
          e.target.value = '';
        }}
      />
    </label>
  );
}
