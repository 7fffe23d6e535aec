import { type FormEvent, useCallback, useEffect, useState } from 'react';
import { Button, ProblemNote } from '../../controls/index.tsx';
import { api, messageOf } from '../../state/api.ts';
import { forgetAuthor } from '../../state/shop.ts';

interface Door {
  needs: 'passcode' | 'pin' | null;
  technicians: { id: string; name: string }[];
}

/** Where to go after signing in: on this site, whatever the address says. */
export function ownPath(to: string | null, origin: string): string {
  try {
    const url = new URL(to ?? '/', origin);
    return url.origin === origin && url.pathname.startsWith('/') && !url.pathname.startsWith('//')
      ? `${url.pathname}${url.search}`
      : '/';
  } catch {
    return '/';
  }
}

export default function SignIn() {
  const [door, setDoor] = useState<Door | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [exposed] = useState(() => window.location.protocol === 'http:' && !isHere(window.location.hostname));
  const look = useCallback(async () => {
    try {
      const found = await api<Door>('/sign-in');
      if (found.needs === null) go();
      else {
        forgetAuthor();
        setDoor(found);
      }
    } catch (error) {
      setProblem(messageOf(error));
    }
  }, []);
  useEffect(() => void look(), [look]);
  const enter = async (given: object) => {
    setProblem(null);
    try {
      const { needs } = await api<{ needs: 'pin' | null }>('/sign-in', { json: given });
      if (needs === null) go();
      else await look();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <main className="mx-auto grid min-h-screen max-w-sm content-center gap-4 p-6">
      <h1 className="flex items-center gap-3 text-3xl font-bold">
        <img src="/mark.svg" alt="" width={40} height={40} />
        Nibrel
      </h1>
      {exposed && (
        <p className="rounded-lg border-l-8 border-ember bg-panel p-4" role="status">
          This connection is not encrypted: the passcode can be read by others in the network. The lead can turn on
          HTTPS with <code>NIBREL_TLS=self</code>.
        </p>
      )}
      {door?.needs === 'passcode' && <Passcode enter={enter} />}
      {door?.needs === 'pin' && <Pin technicians={door.technicians} enter={enter} />}
      {problem && <ProblemNote>{problem}</ProblemNote>}
    </main>
  );
}

const isHere = (name: string) => name === 'localhost' || name === '127.0.0.1' || name === '[::1]';

function go(): void {
  const to = new URLSearchParams(window.location.search).get('to');
  window.location.assign(ownPath(to, window.location.origin));
}

function Passcode({ enter }: { enter: (given: object) => Promise<void> }) {
  const [passcode, setPasscode] = useState('');
  const submit = (e: FormEvent) => {
    e.preventDefault();
    void enter({ passcode });
  };
  return (
    <form onSubmit={submit} className="panel grid gap-4 p-6">
      <label>
        <span className="label">Passcode of this shop</span>
        <input
          className="field"
          type="password"
          autoComplete="current-password"
          value={passcode}
          onChange={(e) => setPasscode(e.target.value)}
        />
      </label>
      <Button weight="main" type="submit" disabled={passcode === ''}>
        Enter
      </Button>
    </form>
  );
}

function Pin({ technicians, enter }: { technicians: Door['technicians']; enter: (given: object) => Promise<void> }) {
  const [technician, setTechnician] = useState(technicians[0]?.id ?? '');
  const [pin, setPin] = useState('');
  const submit = (e: FormEvent) => {
    e.preventDefault();
    void enter({ technician, pin }).then(() => setPin(''));
  };
  return (
    <form onSubmit={submit} className="panel grid gap-4 p-6">
      <label>
        <span className="label">Technician</span>
        <select className="field" value={technician} onChange={(e) => setTechnician(e.target.value)}>
          {technicians.map((t) => (
            <option key={t.id} value={t.id}>
              {t.name}
            </option>
          ))}
        </select>
      </label>
      <label>
        <span className="label">PIN</span>
        <input
          className="field text-2xl tracking-widest"
          type="password"
          inputMode="numeric"
          autoComplete="off"
          value={pin}
          maxLength={12}
          onChange={(e) => setPin(e.target.value)}
        />
      </label>
      <Button weight="main" type="submit" disabled={pin.length < 4}>
        Sign in
      </Button>
    </form>
  );
}
