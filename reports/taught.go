package reports

import (
	"errors"
	"slices"
	"strings"
	"time"

	"jetprimer/core/check"
	"jetprimer/core/compare"
	"jetprimer/store"
)

// TaughtView is how the school's items are learned.
type TaughtView struct {
	Kept
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

// Taught looks at the lessons of a year; the last 90 days are held against those before.
// It is the report that is kept, or is made where none is.
func (r *Reports) Taught(tx *store.Tx) (v TaughtView, err error) {
	stamp, err := r.stamp(tx)
	if err != nil {
		return v, err
	}
	kept, found, err := r.kept(tx, keptTaught, stamp, &v)
	if err != nil || !found {
		return r.makeTaught(tx)
	}
	v.Kept = kept
	return v, nil
}

// makeTaught makes the report and keeps it.
func (r *Reports) makeTaught(tx *store.Tx) (TaughtView, error) {
	stamp, err := r.stamp(tx)
	if err != nil {
		return TaughtView{}, err
	}
	today, err := time.Parse(time.DateOnly, r.day(tx))
	if err != nil {
		return TaughtView{}, err
	}
	v := TaughtView{
		From: today.AddDate(-1, 0, 0).Format(time.DateOnly), Recent: today.AddDate(0, 0, -90).Format(time.DateOnly),
		Items: []TaughtItem{}, Types: []Named{}, Chains: []TaughtChain{}, Readings: []TaughtReading{},
		Groups: []TaughtGroup{}, Questions: []TaughtQuestion{},
	}
	if err := r.taught(tx, &v); err != nil {
		return v, err
	}
	v.Kept, err = r.keep(tx, keptTaught, stamp, v)
	return v, err
}

// taught works out how the school's items are learned.
func (r *Reports) taught(tx *store.Tx, v *TaughtView) error {
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
	types, err := r.Types(tx)
	if err != nil {
		return err
	}
	words := map[string]map[string]itemWords{}
	for _, one := range compare.TaughtOf(tallies) {
		if words[one.Type] == nil {
			v.Types = append(v.Types, Named{one.Type, types.Named(one.Type).Name})
			if words[one.Type], err = wordsOf(tx, one.Type, r.day(tx)); err != nil {
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
func grouped(tallies []compare.Tally, words map[string]map[string]itemWords, slips []store.Slip) []TaughtGroup {
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

// itemWords is what is said of an item beside its numbers.
type itemWords struct{ challenge, phase, kind string }

// subjectOf is what is said of an item: of one that is worked for each engine, with which;
// of one that is on no list as it is printed, its id as words.
func subjectOf(words map[string]itemWords, item string) itemWords {
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

// wordsOf are what is said of each item on the lists of a type.
func wordsOf(tx *store.Tx, aircraftType, day string) (map[string]itemWords, error) {
	out := map[string]itemWords{}
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
				out[item.ID] = itemWords{item.Challenge, phase.Title, kind}
			}
		}
	}
	return out, err
}
