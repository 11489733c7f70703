import { newId } from '../../document/ids.ts';
import { describedAnswer, type DescribedAnswer } from './answer.ts';
import { isObject, listIn, OpenApiDocument, textOf } from './document.ts';
import { operationAt, operationsOf, type Operation } from './operations.ts';
import { describedRequest, type DescribedRequest } from './request.ts';

export type { Need, Operation } from './operations.ts';

/** A service as an OpenAPI document describes it. */
export class Description {
  readonly name: string;
  readonly about: string;
  /** Where it is; empty where the document does not say so. */
  readonly address: string;
  readonly operations: readonly Operation[];
  /** What can be asked and is not taken over, each with why. */
  readonly leftOut: readonly string[];

  private constructor(
    private readonly doc: OpenApiDocument,
    from: string | undefined,
  ) {
    const info = doc.object(doc.root['info']) ?? {};
    this.name = textOf(info['title']).slice(0, 80) || 'Service';
    this.about = textOf(info['description']).slice(0, 2000);
    this.address = addressOf(doc, from);
    const { operations, leftOut } = operationsOf(doc);
    this.operations = operations;
    this.leftOut = leftOut;
  }

  /** Reads a description; `from` is the address that it was fetched from. Throws in words. */
  static read(text: string, what: string, from?: string): Description {
    return new Description(OpenApiDocument.read(text, what), from);
  }

  /** A request made of one of its operations, with what its answers hold. */
  take(operation: Operation, id: (letter: string) => string = newId): DescribedRequest & { answer: DescribedAnswer } {
    const made = describedRequest(this.doc, operation, id);
    const answer = describedAnswer(this.doc, operationAt(this.doc, operation) ?? {}, id);
    return { ...made, answer };
  }

  /** References to other files that were met so far: what they describe is not here. */
  get elsewhere(): string[] {
    return [...this.doc.elsewhere];
  }
}

/** The address of a service, its variables with what they begin with; relative ones by where the document came from. */
function addressOf(doc: OpenApiDocument, from: string | undefined): string {
  for (const server of listIn(doc.root['servers']).map((s) => doc.object(s))) {
    const variables = doc.object(server?.['variables']) ?? {};
    const url = textOf(server?.['url']).replace(/\{([^{}]+)\}/g, (whole, name: string) => {
      const variable = variables[name];
      return isObject(variable) ? textOf(variable['default']) : whole;
    });
    try {
      const { protocol, href } = new URL(url, from);
      if (/^https?:$/.test(protocol)) return href.replace(/\/$/, '');
    } catch {
      // Another of its addresses may be one.
    }
  }
  try {
    return from ? new URL(from).origin : '';
  } catch {
    return '';
  }
}
