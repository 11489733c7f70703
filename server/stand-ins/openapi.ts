const parameter = (name: string, type: string, description: string, more: object = {}): object => ({
  name,
  in: 'query',
  description,
  schema: { type },
  ...more,
});
const json = (schema: object, description: string, more: object = {}): object => ({
  description,
  content: { 'application/json': { schema } },
  ...more,
});
const ref = (name: string): object => ({ $ref: `#/components/schemas/${name}` });
const failed = { $ref: '#/components/responses/Problem' };
const body = (name: string): object => ({ required: true, content: { 'application/json': { schema: ref(name) } } });
const path = (name: string): object => ({ name, in: 'path', required: true, schema: { type: 'string' } });
const text = { type: 'string' };

/** What the stand-ins can be asked, as an OpenAPI 3.1 document. */
export const openApi = (url: string): object => ({
  openapi: '3.1.0',
  info: {
    title: 'Heatherfield supplier (stand-in)',
    version: '1.0',
    description: 'Goods for beekeepers, members and their orders, and an outlook of the weather. All of it is made up.',
  },
  servers: [{ url }],
  paths: {
    '/goods': {
      get: {
        operationId: 'listGoods',
        summary: 'List goods',
        description: 'The catalogue, looked through by words, in pages.',
        parameters: [
          parameter('search', 'string', 'Words that number, name or category hold'),
          parameter('category', 'string', 'Goods of this category only'),
          parameter('page', 'integer', 'Which page, from 1', { schema: { type: 'integer', default: 1 } }),
          parameter('per_page', 'integer', 'How many on a page', {
            schema: { type: 'integer', default: 20, maximum: 200 },
          }),
        ],
        responses: { 200: json(ref('GoodsPage'), 'A page of goods') },
      },
    },
    '/goods/{id}': {
      get: {
        operationId: 'getGood',
        summary: 'Get one good',
        parameters: [path('id')],
        responses: { 200: json(ref('Good'), 'The good'), 404: failed },
      },
    },
    '/outlook': {
      get: {
        operationId: 'getOutlook',
        summary: 'Get the outlook for a place',
        security: [{ outlookKey: [] }],
        parameters: [parameter('place', 'string', 'Which place', { required: true, example: 'Mill Lane' })],
        responses: { 200: json(ref('Outlook'), 'A week of weather'), 401: failed },
      },
    },
    '/members': {
      post: {
        operationId: 'signUp',
        summary: 'Sign up',
        requestBody: body('SignUp'),
        responses: { 201: json(ref('Member'), 'The member'), 422: failed },
      },
    },
    '/tokens': {
      post: {
        operationId: 'signIn',
        summary: 'Sign in',
        requestBody: body('SignIn'),
        responses: { 200: json(ref('Tokens'), 'Tokens'), 401: failed },
      },
      delete: {
        operationId: 'signOut',
        summary: 'Sign out',
        security: [{ token: [] }],
        responses: { 204: { description: 'Done' } },
      },
    },
    '/tokens/renewed': {
      post: {
        operationId: 'renewTokens',
        summary: 'Renew the tokens',
        requestBody: {
          content: {
            'application/json': {
              schema: { type: 'object', properties: { refresh_token: text }, required: ['refresh_token'] },
            },
          },
        },
        responses: { 200: json(ref('Tokens'), 'Tokens'), 401: failed },
      },
    },
    '/me': {
      get: {
        operationId: 'whoAmI',
        summary: 'Who am I',
        security: [{ token: [] }],
        responses: { 200: json(ref('Member'), 'The member'), 401: failed },
      },
    },
    '/orders': {
      get: {
        operationId: 'listOrders',
        summary: 'List my orders',
        security: [{ token: [] }],
        responses: {
          200: json({ type: 'object', properties: { items: { type: 'array', items: ref('Order') } } }, 'Orders'),
          401: failed,
        },
      },
      post: {
        operationId: 'addOrder',
        summary: 'Add an order',
        security: [{ token: [] }],
        requestBody: body('Wanted'),
        responses: { 201: json(ref('Order'), 'The order'), 401: failed, 422: failed },
      },
    },
    '/orders/{id}': {
      get: {
        operationId: 'getOrder',
        summary: 'Get one order',
        security: [{ token: [] }],
        parameters: [path('id')],
        responses: { 200: json(ref('Order'), 'The order'), 404: failed },
      },
      patch: {
        operationId: 'changeOrder',
        summary: 'Change an order',
        security: [{ token: [] }],
        parameters: [path('id')],
        requestBody: body('Wanted'),
        responses: { 200: json(ref('Order'), 'The order'), 412: failed, 422: failed },
      },
      delete: {
        operationId: 'removeOrder',
        summary: 'Remove an order',
        security: [{ token: [] }],
        parameters: [path('id')],
        responses: { 204: { description: 'Done' } },
      },
    },
    '/claims': {
      get: {
        operationId: 'listClaims',
        summary: 'List claims',
        responses: {
          200: json({ type: 'object', properties: { items: { type: 'array', items: ref('Claim') } } }, 'Claims'),
        },
      },
      post: {
        operationId: 'addClaim',
        summary: 'Claim a broken good',
        requestBody: {
          required: true,
          content: {
            'multipart/form-data': {
              schema: {
                type: 'object',
                required: ['good', 'words', 'photo'],
                properties: {
                  good: { type: 'string', example: 'G-0042' },
                  words: text,
                  photo: { type: 'string', contentMediaType: 'image/*' },
                },
              },
            },
          },
        },
        responses: { 201: json(ref('Claim'), 'The claim'), 422: failed },
      },
    },
    '/claims/{id}/photo': {
      get: {
        operationId: 'getClaimPhoto',
        summary: 'Get the photo of a claim',
        parameters: [path('id')],
        responses: { 200: { description: 'The photo', content: { 'image/*': {} } }, 404: failed },
      },
    },
  },
  components: {
    securitySchemes: {
      token: { type: 'http', scheme: 'bearer', bearerFormat: 'JWT' },
      outlookKey: { type: 'apiKey', in: 'header', name: 'X-Api-Key' },
    },
    responses: { Problem: json(ref('Problem'), 'What went wrong') },
    schemas: {
      Good: {
        type: 'object',
        required: ['id', 'name', 'price'],
        properties: {
          id: { type: 'string', example: 'G-0042' },
          name: text,
          category: text,
          unit: text,
          price: { type: 'number' },
          inStock: { type: 'integer' },
          since: { type: 'string', format: 'date' },
          words: text,
          picture: { type: 'string', format: 'uri' },
        },
      },
      GoodsPage: {
        type: 'object',
        properties: {
          total: { type: 'integer' },
          page: { type: 'integer' },
          items: { type: 'array', items: ref('Good') },
        },
      },
      Outlook: {
        type: 'object',
        properties: {
          place: text,
          updated: { type: 'string', format: 'date-time' },
          days: {
            type: 'array',
            items: {
              type: 'object',
              properties: {
                date: { type: 'string', format: 'date' },
                warmest: { type: 'number' },
                coldest: { type: 'number' },
                rain: { type: 'number' },
                wind: { type: 'number' },
                flying: { type: 'boolean' },
              },
            },
          },
        },
      },
      SignUp: {
        type: 'object',
        required: ['mail', 'password', 'name'],
        properties: {
          mail: { type: 'string', format: 'email' },
          password: { type: 'string', format: 'password', minLength: 8 },
          name: text,
        },
      },
      SignIn: {
        type: 'object',
        required: ['mail', 'password'],
        properties: { mail: { type: 'string', format: 'email' }, password: { type: 'string', format: 'password' } },
      },
      Tokens: {
        type: 'object',
        properties: { access_token: text, token_type: text, expires_in: { type: 'integer' }, refresh_token: text },
      },
      Member: { type: 'object', properties: { id: text, mail: text, name: text, points: { type: 'integer' } } },
      Wanted: {
        type: 'object',
        required: ['good', 'quantity'],
        properties: {
          good: { type: 'string', example: 'G-0042' },
          quantity: { type: 'integer', example: 2 },
          wantedOn: { type: ['string', 'null'], format: 'date' },
          note: text,
        },
      },
      Order: {
        allOf: [
          ref('Wanted'),
          {
            type: 'object',
            properties: {
              id: text,
              member: text,
              state: { type: 'string', enum: ['open', 'packed', 'sent'] },
              made: { type: 'string', format: 'date-time' },
            },
          },
        ],
      },
      Claim: {
        type: 'object',
        properties: {
          id: text,
          good: text,
          words: text,
          photo: { type: 'string', format: 'uri' },
          made: { type: 'string', format: 'date-time' },
        },
      },
      Problem: {
        type: 'object',
        properties: {
          title: text,
          status: { type: 'integer' },
          detail: text,
          errors: { type: 'array', items: { type: 'object', properties: { pointer: text, detail: text } } },
        },
      },
    },
  },
});
