/**
 * What phones and hosts fetch late is here from the beginning: fetching takes time that no clock of a world counts. Formats
 * of files are not among it, since their packages are large. Not waited for at the top of a module: a worker would lose
 * the messages that come meanwhile.
 */
import '../access/rules-here.ts';
import '../fields/read-text.ts';
import '../host/in-views.ts';
import '../host/send-files.ts';
import '../host/sender.ts';
import '../phone/fetched.ts';
import '../phone/files.ts';
import '../phone/hash.ts';
import '../phone/history.ts';
import '../phone/kept-runs.ts';
import '../phone/late-parts.ts';
import '../phone/mail.ts';
import '../phone/notices.ts';
import '../phone/questions.ts';
import '../phone/service-files.ts';
import '../phone/signed-in.ts';
import '../phone/waiting-writes.ts';
import '../routines/plain-words.ts';
import '../services/claims.ts';
import '../services/straight.ts';
import '../session/actions.ts';
import '../session/answers.ts';
import '../session/helpers.ts';
import '../session/look-back.ts';
import '../session/outside-writes.ts';
import '../session/variables.ts';
import '../formula/patterns-engine.ts';
import '../screens/becoming.ts';
import '../screens/parts.ts';
