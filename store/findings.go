package store

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"gorm.io/gorm/clause"

	"jetprimer/core/check"
	"jetprimer/core/compare"
	"jetprimer/core/lesson"
	"jetprimer/core/school"
)

// Finding is what a lesson says of its aircraft: a finding, or a reading that asked
// to stop or was decided on.
type Finding struct {
	Event        string    `json:"event" gorm:"column:event_id"`
	Lesson       string    `json:"lesson" gorm:"column:lesson_id"`
	Registration string    `json:"registration"`
	Item         string    `json:"item"`
	Words        string    `json:"words"`
	Decision     string    `json:"decision"`
	Told         string    `json:"told"`
	Why          string    `json:"why"`
	At           time.Time `json:"-"`
	On           string    `json:"on" gorm:"-"`
	// ReturnedBy is who returned the aircraft, with Returned and Retest in words.
	ReturnedBy string `json:"returnedBy,omitempty"`
	Returned   string `json:"returned,omitempty"`
	// Run is the maintenance run by which it came back.
	Run    string `json:"run,omitempty"`
	Retest string `json:"retest,omitempty"`
	// Until is the limit of a deferral and Rule what allows it; DaysLeft are left of it.
	Until      Date             `json:"until,omitempty"`
	Rule       string           `json:"rule,omitempty"`
	DaysLeft   *int             `json:"daysLeft,omitempty" gorm:"-"`
	Deferrable bool             `json:"deferrable" gorm:"-" doc:"whether a limit can be set: it was deferred by a decision"`
	Condition  school.Condition `json:"condition" gorm:"-" enum:"undecided,carried-on,deferred,overdue,grounded,closed"`
	// Grounds says that it keeps the aircraft on the ground.
	Grounds bool `json:"grounds" gorm:"-"`
}

// maxFindings bounds what is shown of findings; those that still stand come before
// all others.
const maxFindings = 500

// Findings lists the newest findings with what each means for its aircraft on a day:
// all that still stand, as far as can be shown, and then the closed ones.
func (tx *Tx) Findings(day string) ([]Finding, error) {
	all, err := find[Finding](tx.db.Table("findings f").
		Select("f.*, coalesce(a.name, '') as returned_by, coalesce(r.words, '') as returned, coalesce(r.retest, '') "+
			"as retest, coalesce(r.run_id::text, '') as run, d.until_on as until, coalesce(d.words, '') as rule").
		Joins("left join returns r on r.school_id = f.school_id and r.lesson_id = f.lesson_id and r.event_id = "+
			"f.event_id").
		Joins("left join memberships a on a.school_id = r.school_id and a.account_id = r.returned_by").
		Joins(`left join lateral (select until_on, words from deferrals d where d.school_id = f.school_id and d.lesson_id = f.lesson_id and d.event_id = f.event_id
			order by noted_at desc limit 1) d on true`).
		Where("f.school_id = ?", tx.School).Order("(r.event_id is null and f.decision not in ('cleared', " +
		"'normal-for-type')) desc, f.at desc, f.event_id").Limit(maxFindings))
	if err != nil {
		return nil, fmt.Errorf("reading findings: %w", err)
	}
	slices.SortStableFunc(all, func(a, b Finding) int { return b.At.Compare(a.At) })
	for i := range all {
		all[i].On, all[i].Condition = tx.Day(all[i].At), school.ConditionOf(all[i].Decision)
		if all[i].Retest != "" {
			all[i].Condition = school.Closed
		}
		all[i].Condition, all[i].DaysLeft = all[i].Condition.DeferredUntil(string(all[i].Until), day)
		all[i].Grounds, all[i].Deferrable = all[i].Condition.Grounds(), all[i].Condition == school.Deferred ||
			all[i].Condition == school.Overdue
	}
	return all, nil
}

// Tried is a try of a finding's check.
type Tried struct {
	Check    compare.LogEntry `gorm:"-"`
	Attempt  int
	Recorded bool
}

// mostTries bounds what stands behind the findings of one page.
const mostTries = 400

// TriesBehind are the tries of the checks behind findings, in their time: those of the
// item, and those of the reading that a finding rests on; by the finding.
func (tx *Tx) TriesBehind(findings []string) (map[string][]Tried, error) {
	type row struct {
		Tried
		Finding          string
		CheckName, Item  string
		Engine           int
		Reading, Verdict []byte
	}
	kept, err := rows[row](tx, `select f.event_id as finding, r.check_name, r.item, r.engine, r.attempt, r.recorded, r.reading, r.verdict
		from findings f join lesson_events e on e.school_id = f.school_id and e.lesson_id = f.lesson_id and e.id = f.event_id
		join readings r on r.school_id = f.school_id and r.lesson_id = f.lesson_id
			and (f.item <> '' and r.item = f.item or r.event_id::text = e.payload->>'reading')
		where f.school_id = @school and f.event_id in @findings order by r.at, r.attempt, r.event_id limit @most`,
		map[string]any{"school": tx.School, "findings": findings, "most": mostTries})
	if err != nil {
		return nil, fmt.Errorf("reading what stands behind findings: %w", err)
	}
	out := map[string][]Tried{}
	for _, k := range kept {
		k.Check = compare.LogEntry{
			Check: k.CheckName, Item: k.Item, Engine: k.Engine, Reading: k.Reading, Verdict: k.Verdict,
		}
		out[k.Finding] = append(out[k.Finding], k.Tried)
	}
	return out, nil
}

// PicturesOf are the pictures of findings that the school has, by the finding.
func (tx *Tx) PicturesOf(findings []string) (map[string][]string, error) {
	type row struct{ Finding, Hash string }
	kept, err := rows[row](tx, `select e.id as finding, p.hash from findings f join lesson_events e on e.school_id = f.school_id and e.lesson_id = f.lesson_id and e.id = f.event_id
		join pictures p on p.school_id = e.school_id and p.lesson_id = e.lesson_id and (e.payload->'pictures')::jsonb @> to_jsonb(p.hash)
		where f.school_id = @school and f.event_id in @findings order by p.received_at, p.hash`,
		map[string]any{"school": tx.School, "findings": findings})
	out := map[string][]string{}
	for _, k := range kept {
		out[k.Finding] = append(out[k.Finding], k.Hash)
	}
	return out, err
}

// Defer notes until when a deferred finding is, and what allows it.
func (tx *Tx) Defer(lesson, event string, d school.Deferral, by string, now time.Time) error {
	if err := d.Check(tx.Day(now)); err != nil {
		return err
	}
	h, f, err := tx.worksOn(lesson, event, now)
	if err != nil {
		return err
	}
	if !f.Deferrable {
		return refuse("finding", "was not deferred by a decision, or stands open no longer")
	}
	if err := tx.db.Exec("insert into deferrals (school_id, lesson_id, event_id, until_on, words, noted_by, "+
		"noted_at) values (?, ?, ?, ?, ?, ?, ?)",
		tx.School, lesson, event, d.Until, d.Words, by, now).Error; err != nil {
		return fmt.Errorf("keeping the limit of a deferral: %w", err)
	}
	return tx.changed(h.Seq, "aircraft", f.Registration)
}

// worksOn enters a write on a finding.
func (tx *Tx) worksOn(lesson, event string, now time.Time) (head, Finding, error) {
	h, err := tx.bump()
	if err != nil {
		return h, Finding{}, err
	}
	findings, err := tx.Findings(tx.Day(now))
	if err != nil {
		return h, Finding{}, err
	}
	i := slices.IndexFunc(findings, func(f Finding) bool { return f.Lesson == lesson && f.Event == event })
	if i < 0 {
		return h, Finding{}, ErrNotFound
	}
	return h, findings[i], nil
}

// mostRuns bounds the maintenance runs that are held to a finding.
const mostRuns = 20

// RunRetest is a maintenance run held to what failed.
type RunRetest struct {
	Lesson
	lesson.Retest
}

// Retests are the checks that a finding rests on and that failed, in words, and the
// aircraft's runs since, each held to them, the newest first; no run where it was only
// seen.
func (tx *Tx) Retests(lessonID, event string) (failed []string, runs []RunRetest, err error) {
	f, err := take[Finding](tx.db.Table("findings").Where("school_id = ? and lesson_id = ? and event_id = ?", tx.School,
		lessonID, event))
	if err != nil {
		return nil, nil, err
	}
	row, err := tx.Lesson(lessonID)
	if err != nil {
		return nil, nil, err
	}
	state, _, _, err := tx.State(row)
	if err != nil {
		return nil, nil, err
	}
	behind := state.FailedBehind(event)
	failed, runs = []string{}, []RunRetest{}
	for _, r := range behind {
		def, _ := check.Find(r.Check)
		failed = append(failed, def.Title)
	}
	if len(behind) == 0 {
		return failed, runs, nil // what was only seen is told in words
	}
	since, err := tx.Runs(f.Registration, mostRuns)
	if err != nil {
		return nil, nil, err
	}
	for _, run := range since {
		if run.ID == lessonID {
			continue
		}
		worked, _, _, err := tx.State(run)
		if err != nil {
			return nil, nil, err
		}
		if since := f.At.Sub(run.OpenedAt).Milliseconds(); since <= worked.DurationMs {
			runs = append(runs, RunRetest{run, worked.Retests(behind, since)})
		}
	}
	return failed, runs, nil
}

// Returning is how somebody closes a finding: by words, by what was tested again in
// words, and by the run that answers it where a check grounded the aircraft.
type Returning struct {
	Words, Retest, Run string
}

// Return takes an aircraft back from the ground: the finding that keeps it there
// is closed. What a check grounded only a run returns whose judged try answers it.
func (tx *Tx) Return(lesson, event string, r Returning, by string, now time.Time) error {
	h, f, err := tx.worksOn(lesson, event, now)
	if err != nil {
		return err
	}
	if !f.Condition.Open() {
		return fmt.Errorf("%w: the finding is closed already", ErrConflict)
	}
	failed, runs, err := tx.Retests(lesson, event)
	if err != nil {
		return err
	}
	row := returned{tx.School, lesson, event, r.Words, r.Retest, nil, by, now}
	i := slices.IndexFunc(runs, func(one RunRetest) bool { return one.ID == r.Run })
	switch {
	case r.Run != "" && i < 0:
		return refuse("run", "is no maintenance run since then on this aircraft that could answer a check")
	case r.Run != "" && !runs[i].Answers:
		return refuse("run", "does not answer it: "+runs[i].Words)
	case r.Run == "" && f.Grounds && len(failed) > 0:
		return refuse("run",
			"must be named: what a check grounded is returned by a signed maintenance run in which that check is "+
				"judged again and asks for nothing")
	case r.Run == "" && r.Retest == "":
		return refuse("retest", "must say what was tested again")
	case r.Run != "":
		row.RunID, row.Retest = &r.Run, strings.TrimSpace(runs[i].Retest.Words+" "+r.Retest)
	}
	if err := tx.db.Create(&row).Error; err != nil {
		return fmt.Errorf("returning the aircraft: %w", err)
	}
	return tx.changed(h.Seq, "aircraft", f.Registration)
}

// PictureWanted refuses a picture that no finding of a lesson names, and says whether it is
// kept already.
func (tx *Tx) PictureWanted(lesson, hash string) (kept bool, err error) {
	type known struct{ Named, Kept bool }
	k, err := row[known](tx, `select exists (select from lesson_events where school_id = @school and lesson_id = @lesson and kind = 'finding' and (payload->'pictures')::jsonb @> to_jsonb(cast(@hash as text))) as named,
		exists (select from pictures where school_id = @school and lesson_id = @lesson and hash = @hash) as kept`,
		map[string]any{
			"school": tx.School, "lesson": lesson, "hash": hash,
		})
	if err != nil {
		return false, fmt.Errorf("looking for the finding: %w", err)
	}
	if !k.Named {
		return false, refuse("hash", "is named by no finding of this lesson")
	}
	return k.Kept, nil
}

// KeepPicture keeps a picture of a finding of a lesson, under the hash that the finding's
// event names it by.
func (tx *Tx) KeepPicture(lesson, hash string, data []byte, by string, now time.Time) error {
	if kept, err := tx.PictureWanted(lesson, hash); err != nil || kept {
		return err
	}
	return tx.db.Clauses(clause.OnConflict{DoNothing: true}).
		Create(&picture{tx.School, lesson, hash, data, by, now}).Error
}

// Picture is a picture of a lesson.
func (tx *Tx) Picture(lesson, hash string) ([]byte, error) {
	p, err := take[picture](tx.own(&picture{}).Where("lesson_id = ? and hash = ?", lesson, hash))
	return p.Data, err
}
