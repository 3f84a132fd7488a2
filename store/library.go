package store

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
)

// The kinds of documents a school has versions of.
const (
	KindType  = "type"
	KindList  = "list"
	KindLayer = "layer"
	KindAid   = "aid"
)

// The states of a version, in the order they follow each other.
const (
	Draft     = "draft"
	Reviewed  = "reviewed"
	InForce   = "in-force"
	Withdrawn = "withdrawn"
)

// Version is one version of a type, list, layer or memory aid: its row in
// lists. The shipped ones are in force from the beginning.
type Version struct {
	Kind          string `json:"kind" enum:"type,list,layer,aid"`
	ID            string `json:"id"`
	Version       int    `json:"version"`
	AircraftType  string `json:"aircraftType"`
	Title         string `json:"title"`
	Status        string `json:"status" enum:"draft,reviewed,in-force,withdrawn"`
	Revision      int    `json:"revision" doc:"counts the savings of a draft"`
	InForceFrom   string `json:"inForceFrom" doc:"a day; empty until approved"`
	WithdrawnFrom string `json:"withdrawnFrom" doc:"a day; empty until withdrawn"`
	WrittenBy     string `json:"writtenBy" doc:"empty for what ships with the program"`
	ReviewedBy    string `json:"reviewedBy"`
	ApprovedBy    string `json:"approvedBy"`
	WithdrawnBy   string `json:"withdrawnBy"`
	Shipped       bool   `json:"shipped"`
}

// ServesOn reports whether the version is in force on a day.
func (v Version) ServesOn(day string) bool {
	if v.Status != InForce && v.Status != Withdrawn {
		return false
	}
	return v.InForceFrom <= day && (v.WithdrawnFrom == "" || day < v.WithdrawnFrom)
}

const versionColumns = `select l.kind, l.id, l.version, l.aircraft_type, l.title, l.status, l.revision,
	coalesce(to_char(l.in_force_from, 'YYYY-MM-DD'), '') as in_force_from, coalesce(to_char(l.withdrawn_from, 'YYYY-MM-DD'), '') as withdrawn_from,
	coalesce(w.name, '') as written_by, coalesce(r.name, '') as reviewed_by, coalesce(a.name, '') as approved_by, coalesce(d.name, '') as withdrawn_by
	from library l left join accounts w on w.id = l.written_by left join accounts r on r.id = l.reviewed_by
	left join accounts a on a.id = l.approved_by left join accounts d on d.id = l.withdrawn_by where l.school_id = ?`

// Versions lists every version there is, shipped and the school's own: of all
// aircraft types or of one.
func (tx *Tx) Versions(aircraftType string) ([]Version, error) {
	query, args := versionColumns, []any{tx.School}
	if aircraftType != "" {
		query, args = query+" and l.aircraft_type = ?", append(args, aircraftType)
	}
	own, err := rows[Version](tx, query+" order by l.kind, l.aircraft_type, l.id, l.version", args...)
	if err != nil {
		return nil, fmt.Errorf("reading the library: %w", err)
	}
	var all []Version
	add := func(v Version) {
		same := func(o Version) bool { return o.Kind == v.Kind && o.ID == v.ID && o.Version == v.Version }
		if (aircraftType == "" || v.AircraftType == aircraftType) && !slices.ContainsFunc(own, same) {
			v.Status, v.Shipped, v.Revision = InForce, true, 1
			all = append(all, v)
		}
	}
	for _, t := range tx.shipped.Types {
		add(Version{Kind: KindType, ID: t.ID, Version: t.Version, AircraftType: t.ID, Title: t.Name})
	}
	for _, l := range tx.shipped.Lists {
		add(Version{Kind: KindList, ID: l.ID, Version: l.Version, AircraftType: l.AircraftType, Title: l.Title})
	}
	return append(all, own...), nil
}

// InForce are the versions that serve on a day: of each document the highest
// that is in force.
func (tx *Tx) InForce(aircraftType, day string) ([]Version, error) {
	all, err := tx.Versions(aircraftType)
	if err != nil {
		return nil, err
	}
	var out []Version
	for _, v := range all {
		if !v.ServesOn(day) {
			continue
		}
		i := slices.IndexFunc(out, func(o Version) bool { return o.Kind == v.Kind && o.ID == v.ID })
		switch {
		case i < 0:
			out = append(out, v)
		case v.Version > out[i].Version:
			out[i] = v
		}
	}
	return out, nil
}

// VersionOf finds one version.
func (tx *Tx) VersionOf(kind, id string, version int) (Version, error) {
	all, err := tx.Versions("")
	if err != nil {
		return Version{}, err
	}
	i := slices.IndexFunc(all, func(v Version) bool { return v.Kind == kind && v.ID == id && v.Version == version })
	if i < 0 {
		return Version{}, ErrNotFound
	}
	return all[i], nil
}

// Body is a version's document, as JSON.
func (tx *Tx) Body(kind, id string, version int) ([]byte, error) {
	body, err := row[string](tx, "select body::text from library where school_id = ? and kind = ? and id = ? and version = ?", tx.School, kind, id, version)
	if !errors.Is(err, ErrNotFound) {
		return []byte(body), err
	}
	if doc, known := tx.shippedDocument(kind, id, version); known {
		return json.Marshal(doc)
	}
	return nil, ErrNotFound
}

func (tx *Tx) shippedDocument(kind, id string, version int) (any, bool) {
	switch kind {
	case KindType:
		return tx.shipped.TypeVersion(id, version)
	case KindList:
		return tx.shipped.ListVersion(id, version)
	}
	return nil, false
}

// Document is a version's document, decoded.
func Document[T any](tx *Tx, kind, id string, version int) (T, error) {
	var out T
	body, err := row[string](tx, "select body::text from library where school_id = ? and kind = ? and id = ? and version = ?", tx.School, kind, id, version)
	switch {
	case errors.Is(err, ErrNotFound):
		if doc, known := tx.shippedDocument(kind, id, version); known {
			return doc.(T), nil
		}
		return out, err
	case err != nil:
		return out, err
	}
	return out, json.Unmarshal([]byte(body), &out)
}

// Desk is what a lesson on an aircraft type is prepared from on a day: the
// versions that serve.
type Desk struct {
	Type   aircraft.Type     `json:"type"`
	Lists  []checklist.List  `json:"lists"`
	Layers []checklist.Layer `json:"layers"`
	Aids   []checklist.Aid   `json:"aids"`
}

// Desk gathers the versions that serve a type on a day. Layers with an
// instructor's technique are in it when they are that instructor's.
func (tx *Tx) Desk(aircraftType, day, instructor string) (Desk, error) {
	desk := Desk{Lists: []checklist.List{}, Layers: []checklist.Layer{}, Aids: []checklist.Aid{}}
	serving, err := tx.InForce(aircraftType, day)
	for _, v := range serving {
		switch {
		case err != nil:
		case v.Kind == KindType:
			desk.Type, err = Document[aircraft.Type](tx, v.Kind, v.ID, v.Version)
		case v.Kind == KindList:
			desk.Lists, err = appended(tx, desk.Lists, v)
		case v.Kind == KindAid:
			desk.Aids, err = appended(tx, desk.Aids, v)
		default:
			if desk.Layers, err = appended(tx, desk.Layers, v); err == nil {
				last := len(desk.Layers) - 1
				if l := desk.Layers[last]; l.Rank == "instructor" && l.Instructor != instructor {
					desk.Layers = desk.Layers[:last]
				}
			}
		}
	}
	if err == nil && desk.Type.ID == "" {
		err = ErrNotFound
	}
	return desk, err
}

func appended[T any](tx *Tx, to []T, v Version) ([]T, error) {
	doc, err := Document[T](tx, v.Kind, v.ID, v.Version)
	return append(to, doc), err
}

// LibraryError says why a version cannot be changed as asked.
type LibraryError struct{ Reason string }

func (e *LibraryError) Error() string { return e.Reason }

// ErrConflict says that somebody else saved the draft in between.
var ErrConflict = errors.New("somebody else has saved this draft since you opened it; your own text is kept on this screen. Reload to see theirs")

// AddDraft keeps a new version as a draft and gives its number: one above
// every version of that document. document must take the number it is given.
func (tx *Tx) AddDraft(kind, id, aircraftType, title string, document func(version int) ([]byte, error), by string, now time.Time) (int, error) {
	seq, err := tx.bump()
	if err != nil {
		return 0, err
	}
	all, err := tx.Versions("")
	if err != nil {
		return 0, err
	}
	version := 1
	for _, v := range all {
		if v.Kind == kind && v.ID == id {
			version = max(version, v.Version+1)
			if v.AircraftType != aircraftType {
				return 0, &LibraryError{fmt.Sprintf("%s %s is for the %s, not for the %s", kind, id, v.AircraftType, aircraftType)}
			}
		}
	}
	body, err := document(version)
	if err != nil {
		return 0, err
	}
	err = tx.db.Exec(`insert into library (school_id, kind, id, version, aircraft_type, title, body, status, written_by, written_at)
		values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, tx.School, kind, id, version, aircraftType, title, string(body), Draft, by, now).Error
	if err != nil {
		return 0, fmt.Errorf("keeping the draft: %w", err)
	}
	return version, tx.changed(seq, kind, id)
}

// SaveDraft keeps another text of a draft, written over the given revision,
// and gives the next.
func (tx *Tx) SaveDraft(v Version, title string, body []byte, by string, now time.Time) (int, error) {
	return v.Revision + 1, tx.step(v, []string{Draft}, "saved", "title = ?, body = ?, revision = revision + 1, written_by = ?, written_at = ?", title, string(body), by, now)
}

// Review says that a draft was read and found sound; Reopen makes it a draft
// again.
func (tx *Tx) Review(v Version, by string, now time.Time) error {
	return tx.step(v, []string{Draft}, "reviewed", "status = 'reviewed', reviewed_by = ?, reviewed_at = ?", by, now)
}

// Reopen makes a reviewed version a draft again.
func (tx *Tx) Reopen(v Version) error {
	return tx.step(v, []string{Reviewed}, "taken back to draft", "status = 'draft', reviewed_by = null, reviewed_at = null")
}

// Approve brings a reviewed version into force from a day.
func (tx *Tx) Approve(v Version, from, by string, now time.Time) error {
	if from < now.UTC().Format(time.DateOnly) {
		return &LibraryError{fmt.Sprintf("a version comes into force today or later, not on %s: lessons before are not changed", from)}
	}
	return tx.step(v, []string{Reviewed}, "approved", "status = 'in-force', in_force_from = ?, approved_by = ?, approved_at = ?", from, by, now)
}

// Withdraw takes a version out of force from a day.
func (tx *Tx) Withdraw(v Version, from, by string, now time.Time) error {
	if from < now.UTC().Format(time.DateOnly) {
		return &LibraryError{fmt.Sprintf("a version is withdrawn from today or later, not from %s: lessons before are not changed", from)}
	}
	return tx.step(v, []string{InForce}, "withdrawn", "status = 'withdrawn', withdrawn_from = ?, withdrawn_by = ?, withdrawn_at = ?", from, by, now)
}

// DropDraft erases a draft.
func (tx *Tx) DropDraft(v Version) error {
	seq, err := tx.bump()
	if err != nil {
		return err
	}
	if v.Status != Draft {
		return &LibraryError{fmt.Sprintf("version %d is %s: only a draft can be deleted", v.Version, v.Status)}
	}
	if err := tx.db.Exec("delete from library where school_id = ? and kind = ? and id = ? and version = ? and status = 'draft'", tx.School, v.Kind, v.ID, v.Version).Error; err != nil {
		return err
	}
	return tx.changed(seq, v.Kind, v.ID)
}

// step changes a version that is in one of some states, at the revision the
// caller saw.
func (tx *Tx) step(v Version, from []string, what, set string, args ...any) error {
	seq, err := tx.bump()
	if err != nil {
		return err
	}
	if v.Shipped {
		return &LibraryError{fmt.Sprintf("version %d ships with the program and stays; write a version of your own over it", v.Version)}
	}
	if !slices.Contains(from, v.Status) {
		return &LibraryError{fmt.Sprintf("version %d is %s and cannot be %s", v.Version, v.Status, what)}
	}
	done := tx.db.Exec("update library set "+set+" where school_id = ? and kind = ? and id = ? and version = ? and status in ? and revision = ?",
		append(args, tx.School, v.Kind, v.ID, v.Version, from, v.Revision)...)
	switch {
	case done.Error != nil:
		return fmt.Errorf("changing version %d of %s: %w", v.Version, v.ID, done.Error)
	case done.RowsAffected == 0:
		return ErrConflict
	}
	return tx.changed(seq, v.Kind, v.ID)
}

// Trained is how far one person knows a document.
type Trained struct {
	Account string `json:"account"`
	Name    string `json:"name"`
	Role    string `json:"role" enum:"student,instructor,chief"`
	// Flown is the highest version the person has worked in a lesson, On its
	// day; 0 when none.
	Flown int    `json:"flown"`
	On    string `json:"on" gorm:"column:on_day"`
	// Told is the highest version the person was told of, by whom and when.
	Told   int    `json:"told"`
	ToldBy string `json:"toldBy"`
	ToldOn string `json:"toldOn"`
}

// Trained lists the students of the type's class and all who instruct, with
// the version of a list or layer each has flown and been told of.
func (tx *Tx) Trained(kind, id string, t aircraft.Type) ([]Trained, error) {
	flown := `select case when ? = 'list' and l.opened->>'list' = ? then (l.opened->>'listVersion')::integer
			else (select max((r->>'version')::integer) from jsonb_array_elements(coalesce(l.opened->'flown'->'layers', '[]')) r
				where ? = 'layer' and r->>'id' = ?) end as version,
		l.student_id, l.instructor_id, l.opened_at from lessons l where l.school_id = ?`
	return rows[Trained](tx, `with flown as (`+flown+`), best as (
			select account, version, to_char(max(opened_at) at time zone 'UTC', 'YYYY-MM-DD') as on_day,
				row_number() over (partition by account order by version desc) as nth from (
				select student_id as account, version, opened_at from flown union all select instructor_id, version, opened_at from flown) f
			where version is not null group by account, version),
		told as (select distinct on (t.account_id) t.account_id, t.version, b.name as told_by, to_char(t.at at time zone 'UTC', 'YYYY-MM-DD') as told_on
			from library_told t join accounts b on b.id = t.told_by
			where t.school_id = ? and t.kind = ? and t.id = ? order by t.account_id, t.version desc)
		select a.id as account, a.name, m.role, coalesce(best.version, 0) as flown, coalesce(best.on_day, '') as on_day,
			coalesce(told.version, 0) as told, coalesce(told.told_by, '') as told_by, coalesce(told.told_on, '') as told_on
		from memberships m join accounts a on a.id = m.account_id
		left join students s on s.school_id = m.school_id and s.id = m.account_id
		left join best on best.account = a.id and best.nth = 1 left join told on told.account_id = a.id
		where m.school_id = ? and (m.role in ('instructor', 'chief') or s.class = ? and s.engine_kind = ? and s.start_type = ?)
		order by m.role, a.name`,
		kind, id, kind, id, tx.School, tx.School, kind, id, tx.School, t.Class, t.EngineKind, t.StartType)
}

// Tell notes that a person was told of a version.
func (tx *Tx) Tell(v Version, account, by string, now time.Time) error {
	seq, err := tx.bump()
	if err != nil {
		return err
	}
	if v.Shipped || v.Status != InForce {
		return &LibraryError{"people are told of a version that the school has approved"}
	}
	err = tx.db.Exec("insert into library_told (school_id, kind, id, version, account_id, told_by, at) values (?, ?, ?, ?, ?, ?, ?) on conflict do nothing",
		tx.School, v.Kind, v.ID, v.Version, account, by, now).Error
	if err != nil {
		return fmt.Errorf("noting who was told: %w", err)
	}
	return tx.changed(seq, v.Kind, v.ID)
}
