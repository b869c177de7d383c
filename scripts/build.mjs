/** `npm run build`: packages and application, for a start that finds everything in place. */
import { needBuild, needPackages, say } from './lib-setup.mjs';

needPackages();
needBuild();
say('Everything is in place: npm start');
