import { runOnData } from './on-data.js';

/** `./heliphon house NAME EMAIL ZONE`: a new house, and the link by which its owner comes in. */
export async function house([name, email, zone = 'Europe/London']: readonly string[]): Promise<void> {
  if (!name || !email)
    throw new Error(
      'Give a name, the email address of its owner and a time zone: ./heliphon house "St Brannoc" ann@brannoc.example Europe/London',
    );
  console.log(await runOnData('dist/server/add-house.js', name, email, zone));
}
