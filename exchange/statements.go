package exchange

import (
	"fmt"
	"strconv"
	"time"

	"github.com/google/uuid"

	"jetprimer/core/lesson"
)

// StatementVersion is that of the statements (xAPI).
const StatementVersion = "1.0.3"

// Words is a text by language.
type Words map[string]string

func english(s string) Words { return Words{"en": s} }

// Statement is something that a learner did (xAPI 1.0.3), as far as lessons need.
type Statement struct {
	ID        string           `json:"id"`
	Actor     StatementActor   `json:"actor"`
	Verb      StatementVerb    `json:"verb"`
	Object    StatementObject  `json:"object"`
	Result    *StatementResult `json:"result,omitempty"`
	Context   StatementContext `json:"context"`
	Timestamp string           `json:"timestamp"`
	Version   string           `json:"version"`
}

// StatementActor is a person by the account that they have at the installation;
// names stay there.
type StatementActor struct {
	ObjectType string           `json:"objectType"`
	Account    StatementAccount `json:"account"`
}

// StatementAccount is the id of a person, and where it holds.
type StatementAccount struct {
	HomePage string `json:"homePage"`
	Name     string `json:"name"`
}

// StatementVerb is what was done.
type StatementVerb struct {
	ID      string `json:"id"`
	Display Words  `json:"display"`
}

// StatementObject is what it was done with; a voided statement is named alone.
type StatementObject struct {
	ObjectType string               `json:"objectType"`
	ID         string               `json:"id"`
	Definition *StatementDefinition `json:"definition,omitempty"`
}

// StatementDefinition says what an object is.
type StatementDefinition struct {
	Type string `json:"type,omitempty"`
	Name Words  `json:"name"`
}

// StatementResult is what came of it.
type StatementResult struct {
	Score      *StatementScore `json:"score,omitempty"`
	Success    *bool           `json:"success,omitempty"`
	Completion *bool           `json:"completion,omitempty"`
	Response   string          `json:"response,omitempty"`
	Extensions map[string]any  `json:"extensions,omitempty"`
}

// StatementScore is a level, 0 to 4.
type StatementScore struct {
	Scaled float64 `json:"scaled"`
	Raw    int     `json:"raw"`
	Min    int     `json:"min"`
	Max    int     `json:"max"`
}

// StatementContext is in which lesson, with whom and on what.
type StatementContext struct {
	Registration string         `json:"registration"`
	Instructor   StatementActor `json:"instructor"`
	Platform     string         `json:"platform"`
	Language     string         `json:"language"`
	Extensions   map[string]any `json:"extensions,omitempty"`
}

// LearnerLesson is a signed lesson as statements are made of it.
type LearnerLesson struct {
	// Home is the address of the installation; ids of things lie below it.
	Home, ID string
	Opened   time.Time
	State    lesson.State
	Book     lesson.Book
	// AtLeast is the level that counts as to standard.
	AtLeast int
}

// The verbs that are used, all of the common vocabulary.
var (
	completed = StatementVerb{"http://adlnet.gov/expapi/verbs/completed", english("completed")}
	scored    = StatementVerb{"http://adlnet.gov/expapi/verbs/scored", english("scored")}
	answered  = StatementVerb{"http://adlnet.gov/expapi/verbs/answered", english("answered")}
	voided    = StatementVerb{"http://adlnet.gov/expapi/verbs/voided", english("voided")}
)

// Statements are those of a signed lesson: that it was completed, the level of each
// item that was observed, and of each oral question. The same lesson gives the same
// statements under the same ids, so that sending them again changes nothing. What
// was said before it was signed again is voided.
func Statements(l LearnerLesson) []Statement {
	if l.State.Opened == nil || len(l.State.Seals) == 0 {
		return nil
	}
	opened, seals := l.State.Opened, len(l.State.Seals)
	extension := func(name string) string { return l.Home + "/xapi/" + name }
	actor := func(person string) StatementActor {
		return StatementActor{"Agent", StatementAccount{l.Home, person}}
	}
	context := StatementContext{Registration: l.ID, Instructor: actor(opened.Instructor), Platform: "Jet Primer",
		Language: "en",
		Extensions: map[string]any{extension("aircraft"): opened.Aircraft,
			extension("type"):   fmt.Sprintf("%s %d", opened.AircraftType, opened.TypeVersion),
			extension("list"):   fmt.Sprintf("%s %d", opened.List, opened.ListVersion),
			extension("method"): opened.Method, extension("purpose"): opened.Purpose,
			extension("practice"): l.State.Practice}}
	id := func(what string, seal int) string {
		return uuid.NewSHA1(uuid.NameSpaceURL, []byte(l.Home+"/lessons/"+l.ID+"/"+strconv.Itoa(seal)+"/"+what)).String()
	}
	var out []Statement
	add := func(what string, verb StatementVerb, object StatementObject, atMs int64, result *StatementResult) {
		at := l.Opened.Add(time.Duration(atMs) * time.Millisecond).UTC().Format("2006-01-02T15:04:05.000Z07:00")
		for seal := 1; seal < seals; seal++ {
			out = append(out,
				Statement{ID: id("void "+what, seal), Actor: actor(opened.Instructor), Verb: voided,
					Object:  StatementObject{ObjectType: "StatementRef", ID: id(what, seal)},
					Context: context, Timestamp: at, Version: StatementVersion})
		}
		out = append(out, Statement{
			id(what, seals), actor(opened.Student), verb, object, result, context, at, StatementVersion,
		})
	}
	activity := func(path, kind, name string) StatementObject {
		return StatementObject{
			"Activity", l.Home + path,
			&StatementDefinition{Type: "http://adlnet.gov/expapi/activities/" + kind, Name: english(name)},
		}
	}
	level := func(level int, response string, extensions map[string]any) *StatementResult {
		success := level >= l.AtLeast
		return &StatementResult{
			Score: &StatementScore{float64(level) / 4, level, 0, 4}, Success: &success, Response: response,
			Extensions: extensions,
		}
	}
	list := "/lists/" + opened.List
	yes := true
	add("lesson", completed, activity(list, "lesson", l.Book.List.Title), 0, &StatementResult{Completion: &yes})
	challenge := map[string]string{}
	for _, p := range l.Book.List.Places() {
		challenge[p.Item.ID] = p.Item.Challenge
	}
	for _, item := range l.State.Items {
		if item.Level == nil {
			continue
		}
		add("item "+item.ID, scored, activity(list+"/items/"+item.ID, "performance", challenge[item.ID]), item.AtMs,
			level(*item.Level, item.Response, map[string]any{
				extension("mark"): item.Mark, extension("implied"): item.Implied, extension("prompts"): item.Prompts,
				extension("assists"): item.Assists,
			}))
	}
	for _, o := range l.State.Orals {
		question := o.Bank // one of the instructor's own has no other name than its event
		if question == "" {
			question = o.Event
		}
		add("oral "+o.Event, answered, activity("/questions/"+question, "question", o.Question), 0,
			level(o.Level, "", nil))
	}
	return out
}
