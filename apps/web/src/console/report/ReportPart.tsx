import type { ReactNode } from 'react';

/** One part of the letter, under its heading. */
export function ReportPart({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="border-t border-line pt-3 print:break-inside-avoid">
      <h2 className="pb-1 text-[17px]">{title}</h2>
      {children}
    </section>
  );
}
