import { Button, FileButton } from '@mantine/core';
import { sayError } from './notify.ts';

interface ImportButtonProps {
  /** What is brought in: "chain". */
  what: string;
  /** Throws what is wrong with the file. */
  onText(text: string, fileName: string): void | Promise<void>;
}

/** Brings in a JSON file that the browser's user chose. */
export function ImportButton({ what, onText }: ImportButtonProps) {
  const take = async (file: File | null) => {
    if (!file) return;
    try {
      await onText(await file.text(), file.name);
    } catch (error) {
      sayError(`The ${what} was not brought in`, error);
    }
  };
  return (
    <FileButton accept="application/json,.json" onChange={(file) => void take(file)}>
      {(props) => (
        <Button variant="default" {...props}>
          Import
        </Button>
      )}
    </FileButton>
  );
}
