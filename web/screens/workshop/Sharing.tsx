import { FileUp } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { Button, Check, FileButton, ProblemNote } from '../../controls/index.tsx';
import { api, ApiError } from '../../state/api.ts';
import { useLoad } from '../../state/useLoad.ts';
import { refusalOf, type Refused } from './Workshop.tsx';

interface Entry {
  file: string;
  sha256: string;
  bytes: number;
  device: { id: string; name: string; maker: string; revision: number };
  shop: { name: string; fingerprint: string };
}
interface Trusted {
  fingerprint: string;
  name: string;
}
interface Taken {
  id: string;
  revision: number;
  shop: string;
  /** It was older than what was taken before, and lies here as a draft. */
  draft?: string;
}
interface Stranger {
  name: string;
  fingerprint: string;
  key: string;
}

/** Devices from other shops: a bundle as a file, or a catalogue at an address; and whom this shop trusts. */
export function Sharing({ taken }: { taken: () => void }) {
  const { data: key } = useLoad<{ fingerprint: string; name: string }>('/workshop/key');
  const { data: trusted, reload } = useLoad<Trusted[]>('/workshop/trusted');
  const [address, setAddress] = useState('');
  const [own, setOwn] = useState(false);
  const [entries, setEntries] = useState<Entry[] | null>(null);
  const [refused, setRefused] = useState<Refused | null>(null);
  const [stranger, setStranger] = useState<{ who: Stranger; again: () => Promise<void> } | null>(null);
  const [told, setTold] = useState<string | null>(null);
  /** A bundle of a device that is here already, and one that is older than what was taken before. */
  const [known, setKnown] = useState<File | null>(null);
  const [old, setOld] = useState<(() => void) | null>(null);
  const [draft, setDraft] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);

  const take = async (ask: (older: boolean) => Promise<Taken>, older = false) => {
    setRefused(null);
    setOld(null);
    setDraft(null);
    setStranger(null);
    setTold(null);
    setBusy(true);
    try {
      const made = await ask(older);
      const { id, revision, shop } = made;
      if (made.draft) setDraft(made.draft);
      setTold(
        made.draft
          ? `${id}, revision ${revision} of ${shop}, lies here as a draft; the device is as it was.`
          : `${id}, revision ${revision}, was taken from ${shop}. It is untried here until a dive on it has been signed off.`,
      );
      taken();
    } catch (error) {
      const problem = error instanceof ApiError ? error.problem : null;
      if (problem?.stranger) setStranger({ who: problem.stranger, again: () => take(ask) });
      else setRefused(refusalOf(error));
      if (problem?.older) setOld(() => () => void take(ask, true));
    } finally {
      setBusy(false);
    }
  };
  const bring = (file: File | undefined, replace = false) => {
    if (!file) return;
    setKnown(null);
    void take(async (older) => {
      try {
        const wish = new URLSearchParams({ ...(replace ? { replace: '1' } : {}), ...(older ? { older: '1' } : {}) });
        return await api(`/workshop/bundles?${wish}`, { body: file, type: 'application/zip' });
      } catch (error) {
        if (error instanceof ApiError && error.status === 409 && !error.problem.older) setKnown(file);
        throw error;
      }
    });
  };
  const look = async () => {
    setRefused(null);
    setEntries(null);
    try {
      setEntries((await api<{ bundles: Entry[] }>('/workshop/catalogue', { json: { address, own } })).bundles);
    } catch (error) {
      setRefused(refusalOf(error));
    }
  };
  const trust = async () => {
    if (!stranger) return;
    const { name, key } = stranger.who;
    await api('/workshop/trusted', { json: { name, key } });
    reload();
    await stranger.again();
  };
  const forget = async (fingerprint: string) => {
    await api(`/workshop/trusted/${fingerprint.replaceAll(' ', '')}`, { method: 'DELETE' });
    reload();
  };
  return (
    <section aria-label="From another shop" className="panel grid gap-4 p-5">
      <div className="flex flex-wrap items-end gap-3">
        <FileButton icon={<FileUp aria-hidden="true" />} accept=".zip,application/zip" onFile={bring}>
          {busy ? 'Checking all of it…' : 'A bundle'}
        </FileButton>
        <label className="min-w-64 flex-1">
          <span className="label">Or a catalogue, by its address</span>
          <input
            className="field"
            value={address}
            placeholder="https://…"
            onChange={(e) => setAddress(e.target.value)}
          />
        </label>
        <Button onClick={() => void look()} disabled={address.trim() === ''}>
          Look at it
        </Button>
      </div>
      <Check checked={own} onChange={(e) => setOwn(e.target.checked)}>
        The address may be in this network or on this machine
      </Check>
      {stranger && (
        <div role="alert" className="rounded-lg border-l-4 border-ember bg-sunk p-3">
          <p>
            Signed by <b>{stranger.who.name}</b>, whom this shop does not trust yet. Ask them for their fingerprint and
            compare:
          </p>
          <p className="num my-1 text-xl">{stranger.who.fingerprint}</p>
          <span className="flex gap-2">
            <Button weight="main" onClick={() => void trust()}>
              It is the same: trust them
            </Button>
            <Button onClick={() => setStranger(null)}>Leave it</Button>
          </span>
        </div>
      )}
      {refused && <ProblemNote faults={refused.faults}>{refused.error}</ProblemNote>}
      {known && <Button onClick={() => bring(known, true)}>Revise the device here with it</Button>}
      {old && (
        <div>
          <Button onClick={old}>Look at it as a draft</Button>
        </div>
      )}
      {told && (
        <p role="status" className="font-semibold text-moss">
          ✓ {told} {draft && <Link to={`/workshop/${draft}`}>Open the draft</Link>}
        </p>
      )}
      {entries && (
        <ul aria-label="Devices of the catalogue" className="grid gap-1">
          {entries.map((e) => (
            <li key={e.file} className="flex flex-wrap items-center justify-between gap-2 border-t border-line py-1">
              <span>
                <b>
                  {e.device.maker} {e.device.name}
                </b>
                , revision {e.device.revision}, by {e.shop.name}, {(e.bytes / 1e6).toFixed(1)} MB
              </span>
              <Button
                disabled={busy}
                onClick={() =>
                  void take((older) =>
                    api('/workshop/catalogue/take', { json: { address, own, file: e.file, sha256: e.sha256, older } }),
                  )
                }
              >
                Take it
              </Button>
            </li>
          ))}
          {entries.length === 0 && <li className="text-quiet">The catalogue is empty.</li>}
        </ul>
      )}
      <div className="text-sm">
        {key && (
          <p className="text-quiet">
            This shop’s own fingerprint: <span className="num text-ink">{key.fingerprint}</span>
          </p>
        )}
        {trusted && trusted.length > 0 && (
          <ul aria-label="Trusted shops" className="mt-1 grid gap-1">
            {trusted.map((t) => (
              <li key={t.fingerprint} className="flex items-center gap-2">
                Trusted: <b>{t.name}</b> <span className="num">{t.fingerprint}</span>
                <Button weight="quiet" onClick={() => void forget(t.fingerprint)}>
                  No longer
                </Button>
              </li>
            ))}
          </ul>
        )}
      </div>
    </section>
  );
}
