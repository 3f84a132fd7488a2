package lesson

import (
	"slices"

	"strings"

	"jetprimer/core/access"
	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
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
	// Changes are the fields of an item that a layer may change.
	Changes []string `json:"changes"`
	// EngineStates and Rules are what a day may say of the engine and the flight.
	EngineStates []string `json:"engineStates"`
	Rules        []string `json:"rules"`
}

// Words is the vocabulary of the program, in the trade's words.
func Words() Vocabulary {
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
		if slices.Contains(CorrectMarks, m.ID) {
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
		Purposes: []Word{w("training", "training"), w("stage-check", "stage check"), w(Maintenance,
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
		Changes:      []string{"challenge", "response", "why", "look", "abnormal", "caution", "when", "critical"},
		EngineStates: []string{"cold", "warm", "hot"},
		Rules:        []string{"VFR", "IFR"},
	}
}

// Element is a part of a spoken take-off brief.
type Element struct {
	ID    string `json:"id"`
	Label string `json:"label"`
}

// BriefElements are the parts that a spoken take-off brief has on a type.
func BriefElements(t aircraft.Type) []Element {
	if t.Class == "helicopter" {
		return []Element{{"runway", "where, and what lies ahead"}, {"wind", "wind, across and along"},
			{"configuration", "configuration"}, {"speeds", "speeds"},
			{"performance", "power needed and its limit"}, {"flying-by", "when to go back down"},
			{"before-rotation", "failure in the hover"},
			{"no-runway-low", "failure low"}, {"no-runway-high", "failure higher, and the height"}, {
				"who", "who flies, who reads",
			}}
	}
	return []Element{{"runway", "runway and length"}, {"wind", "wind, across and along"},
		{"configuration", "configuration"}, {"speeds", "speeds"},
		{"performance", "distance needed"}, {"flying-by", "the point to be flying by"},
		{"before-rotation", "failure before rotation"},
		{"runway-left", "failure with runway left"}, {"no-runway-low", "failure low"}, {
			"no-runway-high", "failure higher, and the height",
		}, {"who", "who flies, who reads"}}
}

// Choice is what a lesson is opened with, as it was chosen and typed.
type Choice struct {
	Student    string `json:"student"`
	Instructor string `json:"instructor"`
	Aircraft   string `json:"aircraft"`
	// Equipment and ElevationFt are the aircraft's.
	Equipment   []string `json:"equipment"`
	ElevationFt int      `json:"elevationFt"`
	Method      string   `json:"method"`
	Scale       string   `json:"scale"`
	Purpose     string   `json:"purpose"`
	Passing     string   `json:"passing,omitempty"`
	Paper       *Paper   `json:"paper,omitempty"`
	Runway      string   `json:"runway"`
	Wind        string   `json:"wind"`
	StartOrder  []int    `json:"startOrder,omitempty"`
	// Date is the school's day.
	Date string `json:"date"`
	// FuelLeft and FuelRight were dipped, in the unit that the person reads.
	FuelLeft  string             `json:"fuelLeft"`
	FuelRight string             `json:"fuelRight"`
	Day       checklist.TypedDay `json:"day"`
	List      checklist.List     `json:"list"`
	Type      aircraft.Type      `json:"type"`
	Over      []checklist.Layer  `json:"layers"`
}

// Tailored is the list as flown that a choice makes.
func (c Choice) Tailored() (checklist.Flown, checklist.Day, error) {
	day, err := c.Day.WithWind(c.Wind)
	if err != nil {
		return checklist.Flown{}, day, err
	}
	elevation := float64(c.ElevationFt)
	day.ElevationFt = &elevation
	flown, err := checklist.Tailor(c.List, c.Over, c.Type, checklist.Aircraft{
		Equipment: c.Equipment, StartOrder: c.StartOrder,
	}, day)
	return flown, day, err
}

// Opened is what the opening event of the lesson carries.
func (c Choice) Opened() (Opened, error) {
	switch {
	case c.Student == "":
		return Opened{}, form.Bad("student", "is not chosen yet")
	case c.Aircraft == "":
		return Opened{}, form.Bad("aircraft", "is not chosen yet")
	case c.List.ID == "":
		return Opened{}, form.Bad("aircraft", "has no checklist in force")
	}
	flown, day, err := c.Tailored()
	if err != nil {
		return Opened{}, err
	}
	conditions, err := c.Day.Conditions()
	if err != nil {
		return Opened{}, err
	}
	conditions["elevationFt"], conditions["date"] = c.ElevationFt, c.Date
	if c.Paper != nil {
		conditions["date"] = c.Paper.Day
	}
	o := Opened{Student: c.Student, Paper: c.Paper, Instructor: c.Instructor, Aircraft: c.Aircraft,
		AircraftType: c.Type.ID, TypeVersion: c.Type.Version,
		List: c.List.ID, ListVersion: c.List.Version, Method: c.Method, Scale: c.Scale, Purpose: c.Purpose,
		Runway: strings.TrimSpace(c.Runway), Wind: strings.TrimSpace(c.Wind),
		Conditions: conditions, Equipment: c.Equipment, Day: &day, Flown: &flown}
	if c.Passing != Passings[0] {
		o.Passing = c.Passing
	}
	if o.Fuel, err = c.fuel(); err != nil {
		return Opened{}, err
	}
	return o, o.check()
}

// fuel is what was dipped, nil where it is not said or the pilot has no choice.
func (c Choice) fuel() (*FuelAboard, error) {
	if !c.Type.Has("tank-choice") || strings.TrimSpace(c.FuelLeft+c.FuelRight) == "" {
		return nil, nil
	}
	out := &FuelAboard{}
	for _, side := range []struct {
		name, text string
		into       *any
	}{{"fuelLeft", c.FuelLeft, &out.Left}, {"fuelRight", c.FuelRight, &out.Right}} {
		unit := c.Day.Units.For("L")
		n, why := form.PlainNumber(side.text, unit)
		switch {
		case strings.TrimSpace(side.text) == "":
			return nil, form.Bad(side.name, "is not said yet: the plan needs both")
		case why != "":
			return nil, form.Bad(side.name, "%s", why)
		}
		if *side.into = n; unit != "L" {
			*side.into = form.Measured(n, unit)
		}
	}
	if _, _, err := out.plan(c.Type, c.Day.FuelMethod); err != nil {
		return nil, form.Bad("fuelLeft", "and right cannot be used: %v", err)
	}
	return out, nil
}

// powers are the words for the powers that gauges are read at.
func powers() []Word {
	out := make([]Word, len(check.Powers))
	for i, id := range check.Powers {
		out[i] = Word{ID: id, Words: check.PowerWords[id]}
	}
	return out
}
