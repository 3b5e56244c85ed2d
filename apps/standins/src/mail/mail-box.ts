import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';

export interface Letter {
  readonly to: string;
  readonly from: string;
  readonly subject: string;
  readonly text: string;
  readonly atMs: number;
}

const MOST_KEPT = 200;

/** A mail box that takes every letter and shows it: nothing leaves the machine. */
export class MailBox {
  #letters: Letter[] = [];
  readonly #server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    onData: (stream, _session, done) => {
      simpleParser(stream).then((mail) => {
        const to = Array.isArray(mail.to) ? mail.to[0] : mail.to;
        const letter = {
          to: to?.text ?? '',
          from: mail.from?.text ?? '',
          subject: mail.subject ?? '',
          text: mail.text ?? '',
          atMs: Date.now(),
        };
        this.#letters = [...this.#letters.slice(1 - MOST_KEPT), letter];
        done();
      }, done);
    },
  });

  get letters(): readonly Letter[] {
    return this.#letters;
  }

  listen(port: number, host: string): Promise<void> {
    return new Promise((resolve, reject) => {
      this.#server.once('error', reject);
      this.#server.listen(port, host, resolve);
    });
  }

  close(): Promise<void> {
    return new Promise((resolve) => this.#server.close(() => resolve()));
  }
}
