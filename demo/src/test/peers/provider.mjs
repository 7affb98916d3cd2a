// A server that signs people in, as a package has it. Says where it is, and ends with its standard input.
// Its tokens run out at once, and it counts what is fetched, so that renewing them can be seen.
import { OAuth2Server } from 'oauth2-mock-server';

const server = new OAuth2Server();
await server.issuer.keys.generate('RS256');
await server.start(0, '127.0.0.1');

let fetched = 0;
server.service.on('beforeTokenSigning', (token, request) => {
  token.payload.grant = request.body.grant_type;
  token.payload.fetched = ++fetched;
});
server.service.on('beforeResponse', (response) => {
  response.body.expires_in = 1;
});

console.log(server.issuer.url);
process.stdin.resume();
process.stdin.on('end', () => server.stop().then(() => process.exit(0)));
