import { Camera } from 'lucide-react';
import { useState } from 'react';
import type { Mark, OpenDevice, Sight } from '../../../core/explore/index.ts';
import type { PlateInfo } from '../../../core/jobs/index.ts';
import type { Edges } from '../../../core/survey/index.ts';
import { FileButton } from '../../controls/index.tsx';
import { api, messageOf } from '../../state/api.ts';
import { technicianNow } from '../../state/shop.ts';
import { proposeInWorker } from '../../workers/vision.ts';

/** A photograph of the layer that lies bare: straightened by the edges that are found, its heads and plugs marked. */
export function Shot({
  job,
  body,
  open,
  shot,
}: {
  job: string;
  body: { width: number; height: number };
  open: OpenDevice;
  shot: (seen: Sight, plate: PlateInfo | null) => void;
}) {
  const [busy, setBusy] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const take = async (file: File | undefined) => {
    if (!file) return;
    setProblem(null);
    try {
      setBusy('Keeping it…');
      const type = file.type || 'application/octet-stream';
      const photo = await api<{ hash: string }>('/field/photographs', { body: file, type });
      setBusy('Looking for the edges…');
      const sides = `width=${body.width}&height=${body.height}`;
      const { edges } = await api<{ edges: Edges | null }>(`/field/photographs/${photo.hash}/edges?${sides}`);
      if (!edges) {
        setProblem('No body stands out from its ground: lay it on something plain. The photograph is kept.');
        shot({ photo: photo.hash, face: open.up, marks: [] }, null);
        return;
      }
      setBusy('Straightening…');
      const by = technicianNow();
      const json = { photo: photo.hash, face: open.up, layer: open.bare[open.up], edges, ...(by ? { by } : {}) };
      const plate = await api<PlateInfo>(`/field/${job}/plates`, { json });
      setBusy('Looking for heads…');
      const marks = await marksOn(plate).catch((): Mark[] => []);
      shot({ photo: plate.plate, face: open.up, marks }, plate);
    } catch (error) {
      setProblem(messageOf(error));
    } finally {
      setBusy(null);
    }
  };
  return (
    <div className="grid gap-1">
      <FileButton
        weight={open.photoDue ? 'main' : 'plain'}
        icon={<Camera aria-hidden="true" />}
        accept="image/*"
        onFile={(file) => void take(file)}
      >
        {open.photoDue ? 'Photograph this layer' : 'Photograph again'}
      </FileButton>
      {busy && <p role="status">{busy}</p>}
      {problem && (
        <p role="alert" className="text-crimson">
          {problem}
        </p>
      )}
    </div>
  );
}

async function marksOn(plate: PlateInfo): Promise<Mark[]> {
  const { screws } = await proposeInWorker(`/api/photos/${plate.plate}`, plate.pxPerMm).result;
  return screws.map(({ at }) => ({ type: 'fastener', at, face: plate.face, on: null }));
}
