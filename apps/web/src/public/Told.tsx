import type { ReactNode } from 'react';

/** A page that has nothing else to show says why. */
export const Told = ({ title, children }: { title: string; children: ReactNode }) => (
  <main className="mx-auto max-w-[46ch] p-8 text-center" role="alert">
    <h1 className="mb-2 text-2xl">{title}</h1>
    <p>{children}</p>
  </main>
);
