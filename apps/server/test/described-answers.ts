import { type Schema, Validator } from '@cfworker/json-schema';

interface Description {
  readonly paths: Readonly<
    Record<string, Readonly<Record<string, { readonly responses: { readonly '2XX': Answer } }>>>
  >;
  readonly components: { readonly schemas: Readonly<Record<string, Schema>> };
}
interface Answer {
  readonly content?: { readonly 'application/json': { readonly schema: { readonly $ref: string } } };
}

/** Holds what routes really answer against what the OpenAPI document says of them. */
export class DescribedAnswers {
  readonly #validators = new Map<string, Validator>();
  readonly #definitions: Record<string, Schema>;
  readonly #templates: readonly { readonly pattern: RegExp; readonly path: string }[];

  private constructor(private readonly description: Description) {
    const { schemas } = description.components;
    const text = JSON.stringify(schemas).replaceAll('#/components/schemas/', '#/$defs/');
    this.#definitions = JSON.parse(text) as Record<string, Schema>;
    this.#templates = Object.keys(description.paths)
      .toSorted((a, b) => a.split('{').length - b.split('{').length)
      .map((path) => ({ path, pattern: new RegExp(`^${path.replace(/\{\w+\}/g, '[^/]+')}$`) }));
  }

  static async of(url: string): Promise<DescribedAnswers> {
    return new DescribedAnswers((await (await fetch(`${url}/api/openapi.json`)).json()) as Description);
  }

  /** @throws Error where an answer is not what was said of it. */
  check(method: string, address: string, body: unknown): void {
    const path = address.split('?')[0]!;
    const template = this.#templates.find(({ pattern }) => pattern.test(path));
    const route = template && this.description.paths[template.path]![method.toLowerCase()];
    const reference = route?.responses['2XX'].content?.['application/json'].schema.$ref.split('/').at(-1);
    if (!reference) return;
    const { valid, errors } = this.#validatorOf(reference).validate(body);
    if (!valid)
      throw new Error(`${method} ${path} does not answer as described: ${JSON.stringify(errors.slice(-3))}`);
  }

  #validatorOf(name: string): Validator {
    const known = this.#validators.get(name);
    if (known) return known;
    const made = new Validator({ $ref: `#/$defs/${name}`, $defs: this.#definitions }, '2020-12');
    this.#validators.set(name, made);
    return made;
  }
}
