import { type FormEvent, useState } from 'react';
import { Button, ProblemNote } from '../../controls/index.tsx';
import { api, messageOf } from '../../state/api.ts';

export default function SignIn() {
  const [passcode, setPasscode] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const enter = async (e: FormEvent) => {
    e.preventDefault();
    try {
      await api('/sign-in', { json: { passcode } });
      const to = new URLSearchParams(window.location.search).get('to') ?? '/';
      window.location.assign(to.startsWith('/') && !to.startsWith('//') ? to : '/');
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
      <form onSubmit={enter} className="panel grid gap-4 p-6">
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
        {problem && <ProblemNote>{problem}</ProblemNote>}
        <Button weight="main" type="submit" disabled={passcode === ''}>
          Enter
        </Button>
      </form>
    </main>
  );
}
