import { useEffect } from 'react';

/** Takes files that are dropped anywhere on the page where nothing else takes them. What reads them is loaded with the first. */
export function useFileDrop(): void {
  useEffect(() => {
    const over = (event: DragEvent): void => {
      if (event.dataTransfer?.types.includes('Files')) event.preventDefault();
    };
    const drop = (event: DragEvent): void => {
      const file = event.dataTransfer?.files[0];
      if (!file || event.defaultPrevented) return;
      event.preventDefault();
      void import('../session/taken-files.ts').then(({ takeFile }) => takeFile(file));
    };
    window.addEventListener('dragover', over);
    window.addEventListener('drop', drop);
    return () => {
      window.removeEventListener('dragover', over);
      window.removeEventListener('drop', drop);
    };
  }, []);
}
