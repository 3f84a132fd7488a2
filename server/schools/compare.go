package schools

import (
	"context"
	"net/http"
	"strconv"
	"strings"

	"jetprimer/core/access"
	"jetprimer/core/compare"
	"jetprimer/reports"
	"jetprimer/server/api"
	"jetprimer/store"
)

// CompareProgress is how far a comparison is.
type CompareProgress struct {
	Working bool    `json:"working" doc:"whether one is made for the school just now"`
	Done    float64 `json:"done" doc:"0 to 1"`
}

func (s Handlers) compareRoutes() {
	api.Handle(s.API, api.Route{
		ID: "compare-progress", For: access.Teaching, Method: http.MethodGet, Path: "/compare/progress",
		Summary: "How far the comparison that is being made is",
	},
		func(_ context.Context, w api.Person, _ *struct{}) (*struct{ Body CompareProgress }, error) {
			done, working := s.Reports.Comparing(w.School)
			return &struct{ Body CompareProgress }{CompareProgress{working, done}}, nil
		})
	api.Handle(s.API, api.Route{
		ID: "compare", For: access.Teaching, Method: http.MethodGet, Path: "/compare",
		Summary: "How instructors grade, compared fairly",
	}, s.compare)
	api.Handle(s.API, api.Route{
		ID: "taught", For: access.Teaching, Method: http.MethodGet, Path: "/taught",
		Summary: "Which items go wrong or need a word, by type",
	}, s.taught)
	api.Handle(s.API, api.Route{
		ID: "export-taught", For: access.Teaching, Method: http.MethodGet, Path: "/taught.csv",
		Summary: "The same as a table",
	}, s.exportTaught)
	api.Handle(s.API, api.Route{
		ID: "export-compare", For: access.Teaching, Method: http.MethodGet, Path: "/compare.csv",
		Summary: "The comparison of instructors as a table",
	}, s.exportCompare)
}

func (s Handlers) taught(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body reports.TaughtView }, error) {
	out := &struct{ Body reports.TaughtView }{}
	return out, s.In(ctx, w, func(tx *store.Tx) (err error) {
		out.Body, err = s.Reports.Taught(tx)
		return err
	})
}

type compareInput struct {
	From string `query:"from" format:"date" doc:"the first day; a year ago when left out"`
}

func (s Handlers) exportCompare(ctx context.Context, w api.Person, in *compareInput) (*api.File, error) {
	found, err := s.compare(ctx, w, in)
	if err != nil {
		return nil, err
	}
	rows := [][]string{
		{
			"instructor", "grades", "group", "compared", "severity", "severity low", "severity high", "stands",
			"mean level", "mean low", "mean high",
		},
	}
	for _, l := range found.Body.Lines {
		rows = append(rows,
			[]string{l.Name, strconv.Itoa(l.Grades), strconv.Itoa(l.Group), strconv.FormatBool(!l.Alone),
				api.Decimal(l.Severity), api.Decimal(l.Low), api.Decimal(l.High), strings.Join(l.Stands, " "),
				api.Decimal(l.Mean), api.Decimal(l.MeanLow), api.Decimal(l.MeanHigh)})
	}
	return api.CSVTable("instructors-"+s.Today(w), rows)
}

func (s Handlers) exportTaught(ctx context.Context, w api.Person, in *struct{}) (*api.File, error) {
	found, err := s.taught(ctx, w, in)
	if err != nil {
		return nil, err
	}
	rows := [][]string{
		{
			"what", "type", "id", "name", "lessons", "wrong or out", "rate", "low", "high", "prompted", "prompted rate",
			"prompted low", "prompted high", "change",
		},
	}
	rate := func(r compare.Rate) []string {
		return []string{strconv.Itoa(r.N), api.Decimal(r.Rate), api.Decimal(r.Low), api.Decimal(r.High)}
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
		rows = append(rows,
			append(append([]string{"question", "", "", q.Question.Question, strconv.Itoa(q.Missed.Of)},
				rate(q.Missed)...), "", "", "", "", ""))
	}
	for _, r := range found.Body.Readings {
		row := append([]string{"check", r.Type, r.Check, r.Title, strconv.Itoa(r.Out.Of)}, rate(r.Out)...)
		rows = append(rows, append(row, "", "", "", "", ""))
	}
	return api.CSVTable("taught-"+s.Today(w), rows)
}

// compare looks at the grades of a year, or from a day on. Whoever is not the
// chief instructor sees their own line and the school's middle.
func (s Handlers) compare(ctx context.Context, w api.Person,
	in *compareInput) (*struct{ Body reports.ComparedView }, error) {
	within := func(do func(tx *store.Tx) error) error { return s.In(ctx, w, do) }
	var asked reports.Comparison
	if err := within(func(tx *store.Tx) (err error) {
		asked, err = s.Reports.Comparison(tx, in.From)
		return err
	}); err != nil {
		return nil, err
	}
	out := &struct{ Body reports.ComparedView }{asked.ComparedView}
	if !asked.Found() {
		var err error
		if out.Body, err = s.Reports.Compare(ctx, asked, within); err != nil {
			return nil, err
		}
	}
	if out.Body.All = w.Roles.Has(access.Chief); !out.Body.All {
		out.Body.Sheet = out.Body.For(w.Account)
	}
	return out, nil
}
