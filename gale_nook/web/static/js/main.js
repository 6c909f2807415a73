// What every page needs.

import "./requests.js";
import "./sliders.js";
import "./tape.js";
import "./keys.js";
import "./looking.js";
import "./findings.js";
import "./folds.js";
import "./news.js";
import "./unsaved.js";
import "./once.js";
import "./narrow.js";
