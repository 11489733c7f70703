import type { Service, ServiceRequest } from './schema.ts';

/** Can phones ask a request themselves? It needs no key, or the token of whoever uses the phone. */
export const canGoStraight = ({ sign }: Pick<Service, 'sign'>, { open }: Pick<ServiceRequest, 'open'>): boolean =>
  Boolean(open) || sign.how === 'none' || sign.how === 'person';

/** Do phones ask it themselves? */
export const goesStraight = (service: Pick<Service, 'sign'>, request: ServiceRequest): boolean =>
  Boolean(request.straight) && canGoStraight(service, request);
