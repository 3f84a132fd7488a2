package store

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"gorm.io/gorm"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/library"
	"jetprimer/core/policy"
	"jetprimer/core/record"
	"jetprimer/core/standard"
)

// versionRow is a version with the names of those who worked on it.
type versionRow struct {
	Kind, ID, AircraftType, Title, Status        string
	Version, Revision                            int
	InForceFrom, WithdrawnFrom                   Date
	WrittenBy, ReviewedBy, ApprovedBy, Withdrawn string
	ReviewedOn                                   string
	Writers                                      IDs
}

func (k versionRow) version() library.Version {
	return library.Version{Kind: k.Kind, ID: k.ID, Version: k.Version, AircraftType: k.AircraftType, Title: k.Title,
		Status: k.Status, Revision: k.Revision,
		InForceFrom: string(k.InForceFrom), WithdrawnFrom: string(k.WithdrawnFrom), WrittenBy: k.WrittenBy,
		ReviewedBy: k.ReviewedBy, ReviewedOn: k.ReviewedOn, ApprovedBy: k.ApprovedBy, WithdrawnBy: k.Withdrawn,
		Writers: k.Writers}
}

func (tx *Tx) library() *gorm.DB {
	return tx.db.Table("library l").Select(`l.kind, l.id, l.version, l.aircraft_type, l.title, l.status, l.revision, l.in_force_from, l.withdrawn_from, l.writers,
		coalesce(w.name, '') as written_by, coalesce(r.name, '') as reviewed_by, coalesce(a.name, '') as approved_by, coalesce(d.name, '') as withdrawn,
		coalesce(to_char(l.reviewed_at at time zone ?, 'YYYY-MM-DD'), '') as reviewed_on`, tx.Zone.String()).
		Joins("left join memberships w on w.school_id = l.school_id and w.account_id = l.written_by").
		Joins("left join memberships r on r.school_id = l.school_id and r.account_id = l.reviewed_by").
		Joins("left join memberships a on a.school_id = l.school_id and a.account_id = l.approved_by").
		Joins("left join memberships d on d.school_id = l.school_id and d.account_id = l.withdrawn_by").
		Where("l.school_id = ?", tx.School)
}

// Versions lists every version there is, shipped and the school's own: of all
// aircraft types or of one.
func (tx *Tx) Versions(aircraftType string) ([]library.Version, error) {
	query := tx.library()
	if aircraftType != "" {
		query = query.Where("l.aircraft_type = ?", aircraftType)
	}
	kept, err := find[versionRow](query.Order("l.kind, l.aircraft_type, l.id, l.version"))
	if err != nil {
		return nil, fmt.Errorf("reading the library: %w", err)
	}
	own := make([]library.Version, len(kept))
	for i, k := range kept {
		own[i] = k.version()
	}
	var all []library.Version
	add := func(v library.Version) {
		same := func(o library.Version) bool { return o.Named(v.Kind, v.ID, v.Version) }
		if (aircraftType == "" || v.AircraftType == aircraftType) && !slices.ContainsFunc(own, same) {
			v.Status, v.Shipped, v.Revision, v.Writers = library.InForce, true, 1, []string{}
			all = append(all, v)
		}
	}
	for _, t := range tx.store.shipped.Types {
		add(library.Version{Kind: library.KindType, ID: t.ID, Version: t.Version, AircraftType: t.ID, Title: t.Name})
	}
	for _, l := range tx.store.shipped.Lists {
		add(library.Version{
			Kind: library.KindList, ID: l.ID, Version: l.Version, AircraftType: l.AircraftType, Title: l.Title,
		})
	}
	for _, p := range tx.store.shipped.Packs {
		add(library.Version{Kind: library.KindPack, ID: p.ID, Version: p.Version, Title: p.Title})
	}
	add(library.Version{
		Kind: library.KindPolicy, ID: policy.ID, Version: tx.store.shipped.Policy.Version,
		Title: tx.defaultPolicy().Title,
	})
	return append(all, own...), nil
}

// defaultPolicy is that of a school that has written none.
func (tx *Tx) defaultPolicy() policy.Policy {
	var scales []string
	for _, s := range tx.store.shipped.Scales {
		scales = append(scales, s.ID)
	}
	return policy.Default(tx.store.shipped.Policy, scales, tx.settings)
}

// Policy is the school's policy as it serves on a day.
func (tx *Tx) Policy(day string) (policy.Policy, error) {
	if p, known := tx.policies[day]; known {
		return p, nil
	}
	kept, err := find[versionRow](tx.library().Where("l.kind = ?", library.KindPolicy).Order("l.version"))
	if err != nil {
		return policy.Policy{}, fmt.Errorf("reading the policy: %w", err)
	}
	p := tx.defaultPolicy()
	for _, k := range kept {
		if v := k.version(); v.ServesOn(day) {
			if p, err = Document[policy.Policy](tx, v.Kind, v.ID, v.Version); err != nil {
				return p, err
			}
		}
	}
	p.Standing.ID, p.Standing.Version = policy.ID, p.Version
	if tx.policies == nil {
		tx.policies = map[string]policy.Policy{}
	}
	tx.policies[day] = p
	return p, nil
}

// InForce are the versions that serve on a day: of each document the highest
// that is in force.
func (tx *Tx) InForce(aircraftType, day string) ([]library.Version, error) {
	all, err := tx.Versions(aircraftType)
	return library.Serving(all, day), err
}

// VersionOf finds one version.
func (tx *Tx) VersionOf(kind, id string, version int) (library.Version, error) {
	all, err := tx.Versions("")
	if err != nil {
		return library.Version{}, err
	}
	i := slices.IndexFunc(all, func(v library.Version) bool { return v.Named(kind, id, version) })
	if i < 0 {
		return library.Version{}, ErrNotFound
	}
	return all[i], nil
}

func (tx *Tx) version(kind, id string, version int) *gorm.DB {
	return tx.own(&libraryRow{}).Where("kind = ? and id = ? and version = ?", kind, id, version)
}

// Body is a version's document, as JSON.
func (tx *Tx) Body(kind, id string, version int) ([]byte, error) {
	k, err := take[libraryRow](tx.version(kind, id, version))
	if !errors.Is(err, ErrNotFound) {
		return []byte(k.Body), err
	}
	if doc, known := tx.shippedDocument(kind, id, version); known {
		return json.Marshal(doc)
	}
	return nil, ErrNotFound
}

func (tx *Tx) shippedDocument(kind, id string, version int) (any, bool) {
	switch kind {
	case library.KindType:
		return tx.store.shipped.TypeVersion(id, version)
	case library.KindList:
		return tx.store.shipped.ListVersion(id, version)
	case library.KindPack:
		i := slices.IndexFunc(tx.store.shipped.Packs,
			func(p standard.Pack) bool { return p.ID == id && p.Version == version })
		if i < 0 {
			return nil, false
		}
		return tx.store.shipped.Packs[i], true
	case library.KindPolicy:
		return tx.defaultPolicy(), id == policy.ID && version == tx.store.shipped.Policy.Version
	}
	return nil, false
}

// Document is a version's document, decoded.
func Document[T any](tx *Tx, kind, id string, version int) (T, error) {
	return firstOf(Documents[T](tx, []library.Version{{Kind: kind, ID: id, Version: version}}))
}

// firstOf is the first of what was found. A database that does not answer is no
// missing version: its error stays what it is.
func firstOf[T any](docs []T, err error) (T, error) {
	if err == nil && len(docs) == 0 {
		err = ErrNotFound
	}
	if err != nil {
		var none T
		return none, err
	}
	return docs[0], nil
}

// Documents are the documents of versions of one kind, in their order; the
// school's own are read in one go.
func Documents[T any](tx *Tx, versions []library.Version) ([]T, error) {
	var keys [][]any
	for _, v := range versions {
		if !v.Shipped {
			keys = append(keys, []any{v.Kind, v.ID, v.Version})
		}
	}
	kept := []libraryRow{}
	if len(keys) > 0 {
		if err := tx.own(&libraryRow{}).Select("kind, id, version, body").Where("(kind, id, version) in ?",
			keys).Find(&kept).Error; err != nil {
			return nil, fmt.Errorf("reading documents: %w", err)
		}
	}
	out := []T{}
	for _, v := range versions {
		i := slices.IndexFunc(kept, func(k libraryRow) bool { return v.Named(k.Kind, k.ID, k.Version) })
		if i < 0 {
			if doc, known := tx.shippedDocument(v.Kind, v.ID, v.Version); known {
				out = append(out, doc.(T))
				continue
			}
			return out, fmt.Errorf("%s %s version %d: %w", v.Kind, v.ID, v.Version, ErrNotFound)
		}
		var doc T
		if err := json.Unmarshal([]byte(kept[i].Body), &doc); err != nil {
			return out, &UnreadableError{v.Kind, v.ID, v.Version, err}
		}
		out = append(out, doc)
	}
	return out, nil
}

// UnreadableError says that a document that is kept cannot be read as its kind.
type UnreadableError struct {
	Kind, ID string
	Version  int
	Why      error
}

func (e *UnreadableError) Error() string {
	return fmt.Sprintf("%s %s version %d cannot be read: %v", e.Kind, e.ID, e.Version, e.Why)
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
	serving, err := tx.InForce(aircraftType, day)
	if err != nil {
		return Desk{}, err
	}
	return tx.desk(serving, instructor)
}

// WritingDesk is what documents of a type are written with: what serves last, and
// where no version of the type is in force yet, the newest that is being described.
func (tx *Tx) WritingDesk(aircraftType, instructor string) (Desk, error) {
	all, err := tx.Versions(aircraftType)
	if err != nil {
		return Desk{}, err
	}
	serving := library.Serving(all, FarDay)
	if types := ofKind(all, library.KindType); len(ofKind(serving, library.KindType)) == 0 && len(types) > 0 {
		serving = append(serving, types[len(types)-1])
	}
	return tx.desk(serving, instructor)
}

// FarDay is one by which all that is approved is in force.
const FarDay = "9999-12-31"

func (tx *Tx) desk(serving []library.Version, instructor string) (Desk, error) {
	desk := Desk{Lists: []checklist.List{}, Layers: []checklist.Layer{}, Aids: []checklist.Aid{}}
	types, err := Documents[aircraft.Type](tx, ofKind(serving, library.KindType))
	switch {
	case err != nil:
		return desk, err
	case len(types) == 0:
		return desk, ErrNotFound
	}
	desk.Type = types[0]
	if desk.Lists, err = Documents[checklist.List](tx, ofKind(serving, library.KindList)); err != nil {
		return desk, err
	}
	if desk.Layers, err = Documents[checklist.Layer](tx, ofKind(serving, library.KindLayer)); err != nil {
		return desk, err
	}
	desk.Layers = slices.DeleteFunc(desk.Layers,
		func(l checklist.Layer) bool { return l.Rank == "instructor" && l.Instructor != instructor })
	desk.Aids, err = Documents[checklist.Aid](tx, ofKind(serving, library.KindAid))
	return desk, err
}

// Types are the aircraft types that serve on a day.
func (tx *Tx) Types(day string) ([]aircraft.Type, error) {
	serving, err := tx.InForce("", day)
	if err != nil {
		return nil, err
	}
	return Documents[aircraft.Type](tx, ofKind(serving, library.KindType))
}

// Type is one aircraft type as it serves on a day.
func (tx *Tx) Type(id, day string) (aircraft.Type, error) {
	serving, err := tx.InForce(id, day)
	if err != nil {
		return aircraft.Type{}, err
	}
	types, err := Documents[aircraft.Type](tx, ofKind(serving, library.KindType))
	return firstOf(types, err)
}

func ofKind(versions []library.Version, kind string) []library.Version {
	return slices.DeleteFunc(slices.Clone(versions), func(v library.Version) bool { return v.Kind != kind })
}

// AddDraft keeps a new version as a draft and gives its number: one above
// every version of that document. document must take the number it is given.
func (tx *Tx) AddDraft(kind, id, aircraftType, title string, document func(version int) ([]byte, error), by string,
	now time.Time) (int, error) {
	h, err := tx.bump()
	if err != nil {
		return 0, err
	}
	all, err := tx.Versions("")
	if err != nil {
		return 0, err
	}
	version, err := library.Next(all, kind, id, aircraftType)
	if err != nil {
		return 0, err
	}
	body, err := document(version)
	if err != nil {
		return 0, err
	}
	if err := tx.db.Create(&libraryRow{SchoolID: tx.School, Kind: kind, ID: id, Version: version,
		AircraftType: aircraftType, Title: title, Body: string(body),
		Status: library.Draft, Revision: 1, WrittenBy: by, WrittenAt: now, Writers: IDs{by}}).Error; err != nil {
		return 0, fmt.Errorf("keeping the draft: %w", err)
	}
	return version, tx.changed(h.Seq, kind, id)
}

// SaveDraft keeps another text of a draft, written over the given revision.
func (tx *Tx) SaveDraft(v library.Version, title string, body []byte, by string, now time.Time) error {
	return tx.step(library.Save, v, "", now,
		map[string]any{"title": title, "body": string(body), "revision": gorm.Expr("revision + 1"), "written_by": by,
			"written_at": now,
			"writers": gorm.Expr("case when jsonb_exists(writers, ?) then writers else writers || "+
				"to_jsonb(?::text) end", by, by)})
}

// Confirm says that a second person held a type's numbers to the pages of its
// handbook. body is the type as it was confirmed: what lacks limits is left off.
func (tx *Tx) Confirm(v library.Version, body []byte, by string, now time.Time) error {
	return tx.step(library.Review, v, "", now, map[string]any{
		"status": library.Reviewed, "reviewed_by": by, "reviewed_at": now, "body": string(body),
	})
}

// Review says that a draft was read and found sound.
func (tx *Tx) Review(v library.Version, by string, now time.Time) error {
	return tx.step(library.Review, v, "", now, map[string]any{
		"status": library.Reviewed, "reviewed_by": by, "reviewed_at": now,
	})
}

// Reopen makes a reviewed version a draft again.
func (tx *Tx) Reopen(v library.Version, now time.Time) error {
	return tx.step(library.Reopen, v, "", now, map[string]any{
		"status": library.Draft, "reviewed_by": nil, "reviewed_at": nil,
	})
}

// Approve brings a reviewed version into force from a day, and seals it.
func (tx *Tx) Approve(v library.Version, from, by string, now time.Time) error {
	return tx.sealedStep(library.Approve, v, from, by, now, map[string]any{
		"status": library.InForce, "in_force_from": from, "approved_by": by, "approved_at": now,
	})
}

// Withdraw takes a version out of force from a day, and seals that.
func (tx *Tx) Withdraw(v library.Version, from, by string, now time.Time) error {
	return tx.sealedStep(library.Withdraw, v, from, by, now, map[string]any{
		"status": library.Withdrawn, "withdrawn_from": from, "withdrawn_by": by, "withdrawn_at": now,
	})
}

// DropDraft erases a draft.
func (tx *Tx) DropDraft(v library.Version, now time.Time) error {
	if err := library.Drop.Check(v, "", tx.Day(now)); err != nil {
		return err
	}
	h, err := tx.bump()
	if err != nil {
		return err
	}
	done := tx.version(v.Kind, v.ID, v.Version).Where("status = ? and revision = ?", library.Draft,
		v.Revision).Delete(&libraryRow{})
	switch {
	case done.Error != nil:
		return done.Error
	case done.RowsAffected == 0:
		return ErrConflict
	}
	return tx.changed(h.Seq, v.Kind, v.ID)
}

// step changes a version at the revision the caller saw.
func (tx *Tx) step(s library.Step, v library.Version, from string, now time.Time, set map[string]any) error {
	_, err := tx.stepped(s, v, from, now, set)
	return err
}

func (tx *Tx) stepped(s library.Step, v library.Version, from string, now time.Time, set map[string]any) (head, error) {
	if err := s.Check(v, from, tx.Day(now)); err != nil {
		return head{}, err
	}
	h, err := tx.bump()
	if err != nil {
		return h, err
	}
	done := tx.version(v.Kind, v.ID, v.Version).Where("status = ? and revision = ?", v.Status, v.Revision).Updates(set)
	switch {
	case done.Error != nil:
		return h, fmt.Errorf("changing version %d of %s: %w", v.Version, v.ID, done.Error)
	case done.RowsAffected == 0:
		return h, ErrConflict
	}
	return h, tx.changed(h.Seq, v.Kind, v.ID)
}

func (tx *Tx) sealedStep(s library.Step, v library.Version, from, by string, now time.Time, set map[string]any) error {
	h, err := tx.stepped(s, v, from, now, set)
	if err != nil {
		return err
	}
	kept, err := take[libraryRow](tx.version(v.Kind, v.ID, v.Version))
	if err != nil {
		return err
	}
	sealed := sealedVersionOf(kept)
	return tx.seal(h, record.Seal{Subject: record.OfVersion, Version: &sealed}, Signer{ID: by}, now)
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
	flown := `select case when @kind = 'list' and l.opened->>'list' = @id then (l.opened->>'listVersion')::integer
			else (select max((r->>'version')::integer) from jsonb_array_elements(coalesce(l.opened->'flown'->'layers', '[]')) r
				where @kind = 'layer' and r->>'id' = @id) end as version,
		l.student_id, l.instructor_id, l.opened_at from lessons l where l.school_id = @school`
	return rows[Trained](tx, `with flown as (`+flown+`), best as (
			select account, version, to_char(max(opened_at) at time zone @zone, 'YYYY-MM-DD') as on_day,
				row_number() over (partition by account order by version desc) as nth from (
				select student_id as account, version, opened_at from flown union all select instructor_id, version, opened_at from flown) f
			where version is not null group by account, version),
		told as (select distinct on (t.account_id) t.account_id, t.version, b.name as told_by, to_char(t.at at time zone @zone, 'YYYY-MM-DD') as told_on
			from library_told t join memberships b on b.school_id = t.school_id and b.account_id = t.told_by
			where t.school_id = @school and t.kind = @kind and t.id = @id order by t.account_id, t.version desc)
		select m.account_id as account, m.name, case when jsonb_exists(m.roles, 'instructor') then 'instructor' when jsonb_exists(m.roles, 'chief') then 'chief' else 'student' end as role,
			coalesce(best.version, 0) as flown, coalesce(best.on_day, '') as on_day,
			coalesce(told.version, 0) as told, coalesce(told.told_by, '') as told_by, coalesce(told.told_on, '') as told_on
		from memberships m
		left join students s on s.school_id = m.school_id and s.id = m.account_id
		left join best on best.account = m.account_id and best.nth = 1 left join told on told.account_id = m.account_id
		where m.school_id = @school and m.active and (jsonb_exists_any(m.roles, array['instructor', 'chief']) or s.class = @class and s.engine_kind = @engine and s.start_type = @start)
		order by role, m.name`,
		map[string]any{
			"kind": kind, "id": id, "school": tx.School, "zone": tx.Zone.String(), "class": t.Class,
			"engine": t.EngineKind, "start": t.StartType,
		})
}

// Tell notes that a person was told of a version.
func (tx *Tx) Tell(v library.Version, account, by string, now time.Time) error {
	if v.Shipped || v.Status != library.InForce {
		return form.Problem{Reason: "people are told of a version that the school has approved"}
	}
	if _, err := tx.RolesOf(account); err != nil {
		return err
	}
	h, err := tx.bump()
	if err != nil {
		return err
	}
	err = tx.db.Exec("insert into library_told (school_id, kind, id, version, account_id, told_by, at) values (?, "+
		"?, ?, ?, ?, ?, ?) on conflict do nothing",
		tx.School, v.Kind, v.ID, v.Version, account, by, now).Error
	if err != nil {
		return fmt.Errorf("noting who was told: %w", err)
	}
	return tx.changed(h.Seq, v.Kind, v.ID)
}
