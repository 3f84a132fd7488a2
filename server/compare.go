package server

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/access"
	"jetprimer/core/check"
	"jetprimer/core/compare"
	"jetprimer/store"
)

// ComparedView is how instructors grade, compared fairly.
type ComparedView struct {
	From string `json:"from" doc:"the first day that it looks at"`
	compare.Sheet
	// All says that every instructor is in it; otherwise it is the own line only.
	All bool `json:"all"`
}

// comparisons keeps the newest ones, since nothing of them changes until a
// lesson is signed. One is made at a time.
type comparisons struct {
	making chan struct{}
	mu     sync.Mutex
	kept   []keptModel
	// school is the one that one is made for, done how far it is.
	school string
	done   float64
}

type keptModel struct {
	school, from string
	grades       []compare.Grade
	model        compare.Model
}

const comparisonsKept = 8

func newComparisons() *comparisons { return &comparisons{making: make(chan struct{}, 1)} }

// of is the comparison of grades; the context ends the wait for it, and the work.
func (c *comparisons) of(ctx context.Context, schoolID, from string, grades []compare.Grade) (compare.Model, error) {
	select {
	case c.making <- struct{}{}:
		defer func() { <-c.making }()
	case <-ctx.Done():
		return compare.Model{}, ctx.Err()
	}
	c.mu.Lock()
	i := slices.IndexFunc(c.kept, func(k keptModel) bool {
		return k.school == schoolID && k.from == from && slices.Equal(k.grades, grades)
	})
	if i >= 0 {
		defer c.mu.Unlock()
		return c.kept[i].model, nil
	}
	c.mu.Unlock()
	first := 0.0
	c.tell(schoolID, 0)
	defer c.tell("", 0)
	model, err := compare.Fit(ctx, grades, func(iteration int, change float64) {
		if iteration == 1 {
			first = change
		}
		c.tell(schoolID, compare.Done(first, change))
	})
	if err != nil {
		return model, err
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	c.kept = slices.DeleteFunc(c.kept, func(k keptModel) bool { return k.school == schoolID && k.from == from })
	if len(c.kept) == comparisonsKept {
		c.kept = c.kept[1:]
	}
	c.kept = append(c.kept, keptModel{schoolID, from, grades, model})
	return model, nil
}

func (c *comparisons) tell(school string, done float64) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.school, c.done = school, done
}

// CompareProgress is how far a comparison is.
type CompareProgress struct {
	Working bool    `json:"working" doc:"whether one is made for the school just now"`
	Done    float64 `json:"done" doc:"0 to 1"`
}

func (s *Server) compareRoutes() {
	route(s, huma.Operation{OperationID: "compare-progress", Method: http.MethodGet, Path: "/compare/progress", Summary: "How far the comparison that is being made is"},
		func(_ context.Context, w who, _ *struct{}) (*struct{ Body CompareProgress }, error) {
			c := s.comparisons
			c.mu.Lock()
			defer c.mu.Unlock()
			if c.school != w.school {
				return &struct{ Body CompareProgress }{}, nil
			}
			return &struct{ Body CompareProgress }{CompareProgress{true, c.done}}, nil
		})
	route(s, huma.Operation{OperationID: "compare", Method: http.MethodGet, Path: "/compare", Summary: "How instructors grade, compared fairly"}, s.compare)
	route(s, huma.Operation{OperationID: "taught", Method: http.MethodGet, Path: "/taught", Summary: "Which items go wrong or need a word, by type"}, s.taught)
	route(s, huma.Operation{OperationID: "export-taught", Method: http.MethodGet, Path: "/taught.csv", Summary: "The same as a table"}, s.exportTaught)
	route(s, huma.Operation{OperationID: "export-compare", Method: http.MethodGet, Path: "/compare.csv", Summary: "The comparison of instructors as a table"}, s.exportCompare)
}

// TaughtView is how the school's items are learned.
type TaughtView struct {
	From   string       `json:"from" doc:"the first day that it looks at"`
	Recent string       `json:"recent" doc:"the first day of the last months, which are held against those before"`
	Items  []TaughtItem `json:"items" doc:"those that surely go wrong first"`
	Types  []Named      `json:"types" doc:"those that have items"`
	// Chains are errors that findings surely follow.
	Chains []TaughtChain `json:"chains"`
	// Readings are the checks by how surely they are out of limits.
	Readings []TaughtReading `json:"readings"`
	// Groups are the items summed by phase, kind and base; Questions the oral ones by
	// how surely they are missed.
	Groups    []TaughtGroup    `json:"groups"`
	Questions []TaughtQuestion `json:"questions"`
}

// TaughtGroup is how a group of items goes, with the newest lessons behind it.
type TaughtGroup struct {
	compare.Taught
	By    string       `json:"by" enum:"phase,kind,base"`
	Slips []store.Slip `json:"slips"`
}

// TaughtQuestion is how an oral question is known, with the newest lessons in which it
// was missed.
type TaughtQuestion struct {
	compare.Question
	Lessons []store.MissedQuestion `json:"lessons"`
}

// TaughtChain is a chain with the words of its items.
type TaughtChain struct {
	compare.Chain
	Challenge string `json:"challenge"`
	FoundAt   string `json:"foundAt"`
}

// TaughtReading is how often a check is out of limits, what was decided, and the
// newest lessons behind it.
type TaughtReading struct {
	compare.OutOfLimits
	Title   string             `json:"title"`
	Decided []DecidedCount     `json:"decided"`
	Lessons []store.OutReading `json:"lessons"`
}

// DecidedCount is how often something was decided; empty is that nothing was.
type DecidedCount struct {
	Decision string `json:"decision"`
	N        int    `json:"n"`
}

// TaughtItem is one item with its words and the newest lessons behind it.
type TaughtItem struct {
	compare.Taught
	Challenge string       `json:"challenge"`
	Phase     string       `json:"phase"`
	Slips     []store.Slip `json:"slips"`
}

// taught looks at the lessons of a year; the last 90 days are held against those
// before.
func (s *Server) taught(ctx context.Context, w who, _ *struct{}) (*struct{ Body TaughtView }, error) {
	today, err := time.Parse(time.DateOnly, s.today(w))
	if err != nil {
		return nil, err
	}
	out := &struct{ Body TaughtView }{TaughtView{From: today.AddDate(-1, 0, 0).Format(time.DateOnly), Recent: today.AddDate(0, 0, -90).Format(time.DateOnly), Items: []TaughtItem{}, Types: []Named{}, Chains: []TaughtChain{}, Readings: []TaughtReading{}, Groups: []TaughtGroup{}, Questions: []TaughtQuestion{}}}
	return out, s.in(ctx, w, func(tx *store.Tx) error {
		signed, err := tx.SignedStamp()
		if err != nil {
			return err
		}
		out.Body, err = s.taughtKept.of(tx.School, fmt.Sprint(signed, " ", s.today(w)), func() (TaughtView, error) {
			v := out.Body
			err := s.teaching(tx, w, &v)
			return v, err
		})
		return err
	})
}

// teaching works out how the school's items are learned.
func (s *Server) teaching(tx *store.Tx, w who, v *TaughtView) error {
	tallies, err := tx.ItemTallies(v.From, v.Recent)
	if err != nil {
		return err
	}
	slips, err := tx.Slips(v.From)
	if err != nil {
		return err
	}
	behind := map[[2]string][]store.Slip{}
	for _, one := range slips {
		behind[[2]string{one.Type, one.Item}] = append(behind[[2]string{one.Type, one.Item}], one)
	}
	types, err := s.typesNow(tx, w)
	if err != nil {
		return err
	}
	words := map[string]map[string]itemSaid{}
	for _, one := range compare.TaughtOf(tallies) {
		if words[one.Type] == nil {
			v.Types = append(v.Types, Named{one.Type, types.named(one.Type).Name})
			if words[one.Type], err = itemWords(tx, one.Type, s.today(w)); err != nil {
				return err
			}
		}
		lessons := behind[[2]string{one.Type, one.Item}]
		if lessons == nil {
			lessons = []store.Slip{}
		}
		item := subjectOf(words[one.Type], one.Item)
		v.Items = append(v.Items, TaughtItem{one, item.challenge, item.phase, lessons})
	}
	v.Groups = grouped(tallies, words, slips)
	if v.Questions, err = questions(tx, v.From); err != nil {
		return err
	}
	sequels, err := tx.Sequels(v.From)
	if err != nil {
		return err
	}
	for _, c := range compare.Chains(sequels) {
		of := words[c.Type]
		v.Chains = append(v.Chains, TaughtChain{c, subjectOf(of, c.Item).challenge, subjectOf(of, c.Finding).challenge})
	}
	v.Readings, err = readingsOut(tx, v.From)
	return err
}

// grouped are the items summed by phase, kind and base.
func grouped(tallies []compare.Tally, words map[string]map[string]itemSaid, slips []store.Slip) []TaughtGroup {
	out := []TaughtGroup{}
	for _, by := range []struct {
		id    string
		group func(compare.Tally) string
	}{
		{"phase", func(t compare.Tally) string { return subjectOf(words[t.Type], t.Item).phase }},
		{"kind", func(t compare.Tally) string { return subjectOf(words[t.Type], t.Item).kind }},
		{"base", func(t compare.Tally) string { return t.Base }},
	} {
		for _, one := range compare.TaughtOf(compare.By(tallies, by.group)) {
			g := TaughtGroup{one, by.id, []store.Slip{}}
			for _, slip := range slips {
				if by.group(compare.Tally{Type: slip.Type, Item: slip.Item, Base: slip.Base}) == one.Item {
					g.Slips = append(g.Slips, slip)
				}
			}
			slices.SortStableFunc(g.Slips, func(a, b store.Slip) int { return b.At.Compare(a.At) })
			g.Slips = g.Slips[:min(len(g.Slips), readingsShown)]
			out = append(out, g)
		}
	}
	return out
}

// questions are the oral questions by how surely they are missed.
func questions(tx *store.Tx, from string) ([]TaughtQuestion, error) {
	tallies, err := tx.QuestionTallies(from)
	if err != nil {
		return nil, err
	}
	missed, err := tx.MissedQuestions(from)
	if err != nil {
		return nil, err
	}
	out := []TaughtQuestion{}
	for _, one := range compare.QuestionsOf(tallies) {
		q := TaughtQuestion{one, []store.MissedQuestion{}}
		for _, m := range missed {
			if m.Question == one.Question {
				q.Lessons = append(q.Lessons, m)
			}
		}
		out = append(out, q)
	}
	return out, nil
}

// readingsShown is how many lessons stand behind a check at most.
const readingsShown = 5

// readingsOut are the checks of every type with what was decided on them.
func readingsOut(tx *store.Tx, from string) ([]TaughtReading, error) {
	tallies, err := tx.ReadingTallies(from)
	if err != nil {
		return nil, err
	}
	all, err := tx.OutReadings(from)
	if err != nil {
		return nil, err
	}
	out := []TaughtReading{}
	for _, one := range compare.OutOfLimitsOf(tallies) {
		r := TaughtReading{one, one.Check, []DecidedCount{}, []store.OutReading{}}
		if d, known := check.Find(one.Check); known {
			r.Title = d.Title
		}
		for _, o := range all {
			if o.Type != one.Type || o.Check != one.Check {
				continue
			}
			if len(r.Lessons) < readingsShown {
				r.Lessons = append(r.Lessons, o)
			}
			i := slices.IndexFunc(r.Decided, func(d DecidedCount) bool { return d.Decision == o.Decision })
			if i < 0 {
				i, r.Decided = len(r.Decided), append(r.Decided, DecidedCount{Decision: o.Decision})
			}
			r.Decided[i].N++
		}
		slices.SortStableFunc(r.Decided, func(a, b DecidedCount) int { return b.N - a.N })
		out = append(out, r)
	}
	return out, nil
}

// itemSaid is what is said of an item beside its numbers.
type itemSaid struct{ challenge, phase, kind string }

// subjectOf is what is said of an item: of one that is worked for each engine, with which;
// of one that is on no list as it is printed, its id as words.
func subjectOf(words map[string]itemSaid, item string) itemSaid {
	if known, ok := words[item]; ok {
		return known
	}
	name, engine := item, ""
	if at := len(item) - 2; at > 0 && item[at] == '-' && item[at+1] >= '1' && item[at+1] <= '4' {
		name, engine = item[:at], ", engine "+item[at+1:]
	}
	known, ok := words[name]
	if !ok {
		known.challenge = strings.ToUpper(name[:1]) + strings.ReplaceAll(name[1:], "-", " ")
	}
	known.challenge += engine
	return known
}

// itemWords are what is said of each item on the lists of a type.
func itemWords(tx *store.Tx, aircraftType, day string) (map[string]itemSaid, error) {
	out := map[string]itemSaid{}
	desk, err := tx.Desk(aircraftType, day, "")
	if errors.Is(err, store.ErrNotFound) {
		return out, nil
	}
	for _, list := range desk.Lists {
		for _, phase := range list.Phases {
			for _, item := range phase.Items {
				if _, known := out[item.ID]; known {
					continue
				}
				kind := "done and said"
				switch {
				case item.Check != "":
					kind = "measured"
				case item.Critical:
					kind = "critical"
				}
				out[item.ID] = itemSaid{item.Challenge, phase.Title, kind}
			}
		}
	}
	return out, err
}

type compareInput struct {
	From string `query:"from" format:"date" doc:"the first day; a year ago when left out"`
}

func (s *Server) exportCompare(ctx context.Context, w who, in *compareInput) (*fileOutput, error) {
	found, err := s.compare(ctx, w, in)
	if err != nil {
		return nil, err
	}
	rows := [][]string{{"instructor", "grades", "group", "compared", "severity", "severity low", "severity high", "stands", "mean level", "mean low", "mean high"}}
	for _, l := range found.Body.Lines {
		rows = append(rows, []string{l.Name, strconv.Itoa(l.Grades), strconv.Itoa(l.Group), strconv.FormatBool(!l.Alone), decimal(l.Severity), decimal(l.Low), decimal(l.High), strings.Join(l.Stands, " "),
			decimal(l.Mean), decimal(l.MeanLow), decimal(l.MeanHigh)})
	}
	return csvTable("instructors-"+s.today(w), rows)
}

func (s *Server) exportTaught(ctx context.Context, w who, in *struct{}) (*fileOutput, error) {
	found, err := s.taught(ctx, w, in)
	if err != nil {
		return nil, err
	}
	rows := [][]string{{"what", "type", "id", "name", "lessons", "wrong or out", "rate", "low", "high", "prompted", "prompted rate", "prompted low", "prompted high", "change"}}
	rate := func(r compare.Rate) []string {
		return []string{strconv.Itoa(r.N), decimal(r.Rate), decimal(r.Low), decimal(r.High)}
	}
	for _, i := range found.Body.Items {
		row := append([]string{"item", i.Type, i.Item, i.Challenge, strconv.Itoa(i.Wrong.Of)}, rate(i.Wrong)...)
		rows = append(rows, append(append(row, rate(i.Prompted)...), i.Change))
	}
	for _, g := range found.Body.Groups {
		row := append([]string{g.By, "", g.Item, g.Item, strconv.Itoa(g.Wrong.Of)}, rate(g.Wrong)...)
		rows = append(rows, append(append(row, rate(g.Prompted)...), g.Change))
	}
	for _, q := range found.Body.Questions {
		rows = append(rows, append(append([]string{"question", "", "", q.Question.Question, strconv.Itoa(q.Missed.Of)}, rate(q.Missed)...), "", "", "", "", ""))
	}
	for _, r := range found.Body.Readings {
		row := append([]string{"check", r.Type, r.Check, r.Title, strconv.Itoa(r.Out.Of)}, rate(r.Out)...)
		rows = append(rows, append(row, "", "", "", "", ""))
	}
	return csvTable("taught-"+s.today(w), rows)
}

// compare looks at the grades of a year, or from a day on. Whoever is not the
// chief instructor sees their own line and the school's middle.
func (s *Server) compare(ctx context.Context, w who, in *compareInput) (*struct{ Body ComparedView }, error) {
	if in.From == "" {
		today, err := time.Parse(time.DateOnly, s.today(w))
		if err != nil {
			return nil, err
		}
		in.From = today.AddDate(-1, 0, 0).Format(time.DateOnly)
	}
	var grades []compare.Grade
	var names map[string]string
	err := s.in(ctx, w, func(tx *store.Tx) (err error) {
		signed, err := tx.SignedStamp()
		if err != nil {
			return err
		}
		if grades, err = s.gradesKept.of(tx.School, fmt.Sprint(signed, " ", in.From), func() ([]compare.Grade, error) { return tx.Grades(in.From) }); err == nil {
			names, err = tx.Names()
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	model, err := s.comparisons.of(ctx, w.school, in.From, grades)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body ComparedView }{ComparedView{From: in.From, Sheet: compare.SheetOf(model, grades, names), All: w.roles.Has(access.Chief)}}
	if !out.Body.All {
		out.Body.Sheet = out.Body.For(w.account)
	}
	return out, nil
}
