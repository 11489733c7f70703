/** All of the language, for whoever is no phone: what few formulas need comes in files of their own. */
import './builtins/ranges.ts';
import './patterns-engine.ts';
