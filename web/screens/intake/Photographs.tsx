import { Camera, X } from 'lucide-react';
import { useState } from 'react';
import { ProblemNote } from '../../controls/index.tsx';
import { messageOf, storePhoto } from '../../state/api.ts';

/** Photographs of the device as it came in: stored as they are added, named by their content. */
export function Photographs({
  photos,
  setPhotos,
}: {
  photos: string[];
  setPhotos: (change: (photos: string[]) => string[]) => void;
}) {
  const [photoProblem, setPhotoProblem] = useState<string | null>(null);
  const addPhotos = async (files: FileList | null) => {
    setPhotoProblem(null);
    for (const file of files ?? []) {
      try {
        const hash = await storePhoto(file);
        setPhotos((p) => (p.includes(hash) ? p : [...p, hash]));
      } catch (error) {
        setPhotoProblem(`${file.name}: ${messageOf(error)}`);
      }
    }
  };
  return (
    <>
      <div className="flex flex-wrap items-center gap-3">
        <label
          className={
            'inline-flex min-h-12 cursor-pointer items-center gap-2 rounded-lg bg-sunk px-4 ' +
            'font-semibold has-focus-visible:outline-3 has-focus-visible:outline-petrol dark:bg-line'
          }
        >
          <Camera aria-hidden="true" />
          Add photographs
          <input
            type="file"
            accept="image/*"
            multiple
            className="sr-only"
            onChange={(e) => {
              void addPhotos(e.target.files);
              e.target.value = '';
            }}
          />
        </label>
        {photos.map((hash) => (
          <span key={hash} className="relative">
            <img src={`/api/photos/${hash}/thumb`} alt="At intake" className="h-16 rounded-md" />
            <button
              type="button"
              aria-label="Remove photograph"
              className="absolute -top-2 -right-2 grid size-7 place-items-center rounded-full bg-ink text-ground"
              onClick={() => setPhotos((p) => p.filter((h) => h !== hash))}
            >
              <X size={16} />
            </button>
          </span>
        ))}
      </div>
      {photoProblem && <ProblemNote>{photoProblem}</ProblemNote>}
    </>
  );
}
