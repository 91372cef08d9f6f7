import { isMapName } from '@vole/core';
import { useEffect } from 'react';

function mapAmong(event: DragEvent): File | undefined {
  return [...(event.dataTransfer?.files ?? [])].find(({ name }) => isMapName(name));
}

/** Takes map files that are dropped anywhere on the page. What reads them is loaded with the first. */
export function useMapDrop(): void {
  useEffect(() => {
    const over = (event: DragEvent): void => {
      if (event.dataTransfer?.types.includes('Files')) event.preventDefault();
    };
    const drop = (event: DragEvent): void => {
      const file = mapAmong(event);
      if (!file) return;
      event.preventDefault();
      void import('../session/maps.ts').then(({ bringMap }) => bringMap(file));
    };
    window.addEventListener('dragover', over);
    window.addEventListener('drop', drop);
    return () => {
      window.removeEventListener('dragover', over);
      window.removeEventListener('drop', drop);
    };
  }, []);
}
