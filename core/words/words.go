// Package words holds what marks, verdicts, decisions, roles and the like are called: the
// vocabulary that screens, printed sheets and files share.
package words

import (
	"slices"

	"jetprimer/core/access"
	"jetprimer/core/check"
	"jetprimer/core/lesson"
	"jetprimer/core/library"
)

// Word is something that a screen names: its id, its words, and where it has
// one how it stands and its key.
type Word struct {
	ID    string      `json:"id"`
	Words string      `json:"words"`
	State check.State `json:"state,omitempty"`
	Key   string      `json:"key,omitempty"`
}

// Vocabulary is every list of words that screens share.
type Vocabulary struct {
	Outcomes []Word `json:"outcomes"`
	Marks    []Word `json:"marks"`
	// Corrections are the marks that can stand in the place of a signed one.
	Corrections []Word `json:"corrections"`
	// RunMarks are the marks of a maintenance run, in which nobody is graded.
	RunMarks   []string `json:"runMarks"`
	Decisions  []Word   `json:"decisions"`
	Methods    []Word   `json:"methods"`
	Purposes   []Word   `json:"purposes"`
	Severities []Word   `json:"severities"`
	Orals      []Word   `json:"orals"` // the levels that an oral answer can have
	Classes    []Word   `json:"classes"`
	Kinds      []Word   `json:"kinds"` // of documents
	// Powers are those that a gauge's band may differ by.
	Powers []Word `json:"powers"`
	// Befores are what a reading is mostly waited for; a list's items may raise the
	// power for something else.
	Befores []Word `json:"befores"`
	// Builds are the words for how a type is built, by the field that says so.
	Builds    map[string][]Word `json:"builds"`
	Statuses  []Word            `json:"statuses"`
	Ranks     []Word            `json:"ranks"`
	Reasons   []Word            `json:"reasons"` // of tailoring and differences
	Standings []Word            `json:"standings"`
	Roles     []Word            `json:"roles"` // that a person can have in a school
	// Places are those of the application, as its bar and its guide call them.
	Places []Word `json:"places"`
	// Changes are the fields of an item that a layer may change.
	Changes []string `json:"changes"`
	// EngineStates and Rules are what a day may say of the engine and the flight.
	EngineStates []string `json:"engineStates"`
	Rules        []string `json:"rules"`
}

// All is the vocabulary of the program, in the trade's words.
func All() Vocabulary {
	w := func(id, words string) Word { return Word{ID: id, Words: words} }
	stands := func(id, words string, state check.State) Word { return Word{ID: id, Words: words, State: state} }
	mark := func(id, words, key string, state check.State) Word {
		return Word{ID: id, Words: words, Key: key, State: state}
	}
	var outcomes []Word
	for _, o := range []check.Outcome{check.Normal, check.Caution, check.Invalid, check.Abnormal} {
		outcomes = append(outcomes, stands(string(o), check.OutcomeWords(o), check.StateOf(o)))
	}
	marks := []Word{mark("done", "Done", " ", check.Within), mark("prompted", "Prompted", "p", check.Attend),
		mark("helped", "Helped", "h", check.Attend),
		mark("wrong", "Wrong", "w", check.Out), mark("self-fixed", "Self-fixed", "s", check.Within),
		mark("left-out", "Left out", "o", check.Out),
		mark("not-fitted", "Not fitted", "n", check.Unjudged), mark("unsafe", "Unsafe", "", check.Out),
		mark("shown", "Shown", "", check.Unjudged),
		mark("late", "Late", "", check.Attend), mark("out-of-order", "Out of order", "", check.Attend), mark("passed",
			"Passed", "", check.Unjudged)}
	var corrections []Word
	for _, m := range marks {
		if slices.Contains(lesson.CorrectMarks, m.ID) {
			m.Key = ""
			corrections = append(corrections, m)
		}
	}
	return Vocabulary{
		Outcomes: outcomes, Marks: marks, Corrections: corrections, RunMarks: []string{"done", "not-fitted"},
		Decisions: []Word{w("normal-for-type", "normal for type"), w("cleared", "cleared and tested again"),
			w("carried-on", "carried on, recorded"),
			w("deferred", "deferred"), w("grounded", "grounded")},
		Methods: []Word{
			w("read-and-do", "read and do"), w("flow-then-verify", "flow, then verify"),
			w("challenge-and-response", "challenge and response"),
		},
		Purposes: []Word{w("training", "training"), w("stage-check", "stage check"), w(lesson.Maintenance,
			"maintenance run")},
		Severities: []Word{w("slip", "slip without effect"), w("wrong", "wrong result"), w("unsafe", "unsafe")},
		Orals:      []Word{w("4", "knew it"), w("3", "small slip"), w("2", "after a word"), w("1", "did not know")},
		Classes: []Word{w("airplane-single-engine-land", "airplane, single engine"),
			w("airplane-multi-engine-land", "airplane, multi-engine"),
			w("helicopter", "helicopter")},
		Powers: powers(), Befores: []Word{w("run-up", "the run-up"), w("take-off", "take-off"), w("taxi", "taxi")},
		Builds: map[string][]Word{
			"engineKind": {w("piston", "piston"), w("diesel", "diesel"), w("turbine", "turbine")},
			"startType": {
				w("carburetted", "carburettor"), w("injected", "injection"), w("electronic", "electronic"),
				w("diesel", "diesel"), w("turbine", "turbine"), w("rotor", "piston with a rotor"),
			},
			"ignition":   {w("magnetos", "two magnetos"), w("lanes", "two lanes"), w("none", "none")},
			"propeller":  {w("fixed", "fixed"), w("constant-speed", "constant speed"), w("none", "none, a rotor")},
			"tachometer": {w("", "rpm"), w("percent", "percent")},
		},
		Kinds: []Word{
			w(library.KindType, "aircraft type"), w(library.KindList, "checklist"), w(library.KindLayer, "layer"),
			w(library.KindAid, "memory aid"), w(library.KindPolicy, "policy"), w(library.KindPack, "standards pack"),
		},
		Statuses: []Word{
			w(library.Draft, "draft"), w(library.Reviewed, "reviewed"), w(library.InForce, "in force"),
			w(library.Withdrawn, "withdrawn"),
		},
		Ranks: []Word{w("instructor", "an instructor’s technique"), w("school", "school supplement"),
			w("handbook", "handbook supplement"),
			w("bulletin", "service bulletin")},
		Reasons: []Word{w("added", "added"), w("changed", "changed"), w("dropped", "left off today"),
			w("included", "on the list because of today"),
			w("overruled", "overruled"), w("refused", "cannot be made"), w("removed", "removed"), w("moved", "moved")},
		Standings: []Word{stands("consolidated", "consolidated", check.Within),
			stands("to standard", "to standard", check.Within),
			stands("practising", "practising", check.Attend), stands("introduced", "introduced", check.Attend),
			stands("lapsed", "lapsed", check.Out),
			stands("not seen", "not seen", check.Attend), w("not required", "not on this aircraft")},
		Roles: []Word{w(access.Student, "student"), w(access.Instructor, "instructor"),
			w(access.Chief, "chief instructor"), w(access.Maintenance, "maintenance"),
			w(access.Examiner, "examiner"), w(access.Admin, "administrator")},
		Places: []Word{
			w("today", "Today"), w("day", "Day"), w("schedule", "Schedule"), w("open-lesson", "Open a lesson"),
			w("lesson", "Lesson"), w("debrief", "Debrief"), w("student", "Standing"), w("school", "School"),
			w("outlook", "Outlook"), w("taught", "What we teach badly"), w("compare", "Instructors compared"),
			w("stand", "Stand"), w("station", "Station"), w("aircraft", "Aircraft"), w("readings", "Readings"),
			w("recorder", "Engine recorder"), w("lists", "Lists"), w("document", "Document"), w("reference", "Checks"),
			w("standards", "Standards"), w("people", "People"), w("sites", "The school"), w("policy", "Policy"),
			w("audit-log", "Who did what"), w("status", "Status"), w("account", "Account"),
			w("verify", "Verify a record"), w("sign-in", "Sign in"), w("guide", "Help"),
		},
		Changes:      []string{"challenge", "response", "why", "look", "abnormal", "caution", "when", "critical"},
		EngineStates: []string{"cold", "warm", "hot"},
		Rules:        []string{"VFR", "IFR"},
	}
}

// powers are the words for the powers that gauges are read at.
func powers() []Word {
	out := make([]Word, len(check.Powers))
	for i, id := range check.Powers {
		out[i] = Word{ID: id, Words: check.PowerWords[id]}
	}
	return out
}
