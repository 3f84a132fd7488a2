package store

import (
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"jetprimer/core/access"
	"jetprimer/core/form"
)

// Member is a person as the school has them.
type Member struct {
	ID string `json:"id"`
	access.Member
	Active bool `json:"active"`
	// Class, EngineKind and StartType are those of a student.
	Class      string `json:"class,omitempty"`
	EngineKind string `json:"engineKind,omitempty"`
	StartType  string `json:"startType,omitempty"`
	HasPin     bool   `json:"hasPin"`
	// LeftOn is the day somebody left; Erased says that their name is gone.
	LeftOn string `json:"leftOn,omitempty"`
	Erased bool   `json:"erased"`
}

// membersMost bounds what is listed of a school's people.
const membersMost = 2000

// Members lists everybody who is or was of the school, by name.
func (tx *Tx) Members() ([]Member, error) {
	return tx.membersWhere("true")
}

// Member finds one person of the school.
func (tx *Tx) Member(id string) (Member, error) {
	return firstOf(tx.membersWhere("a.id = ?", id))
}

func (tx *Tx) membersWhere(query string, args ...any) ([]Member, error) {
	type row struct {
		ID, Name, Email, Number      string
		Roles                        access.Roles `gorm:"serializer:json"`
		Active, HasPin               bool
		Class, EngineKind, StartType string
		InstructorID                 string
		StartedOn, LeftOn            Date
		Erased                       bool
	}
	kept, err := find[row](tx.db.Table("memberships m").Select(`a.id, m.name, a.email, m.number, m.roles, m.active, a.pin <> '' as has_pin, m.left_on, m.erased_at is not null as erased,
		coalesce(s.class, '') as class, coalesce(s.engine_kind, '') as engine_kind, coalesce(s.start_type, '') as start_type,
		coalesce(s.instructor_id::text, '') as instructor_id, s.started_on`).
		Joins("join accounts a on a.id = m.account_id").Joins("left join students s on s.school_id = m.school_id "+
		"and s.id = m.account_id").
		Where("m.school_id = ?", tx.School).Where(query, args...).Order("m.name, a.id").Limit(membersMost))
	if err != nil {
		return nil, fmt.Errorf("reading the school's people: %w", err)
	}
	out := make([]Member, len(kept))
	for i, k := range kept {
		out[i] = Member{ID: k.ID, Member: access.Member{Name: k.Name, Email: k.Email, Roles: k.Roles, Number: k.Number},
			Active: k.Active,
			Class:  k.Class, EngineKind: k.EngineKind, StartType: k.StartType, HasPin: k.HasPin,
			LeftOn: string(k.LeftOn), Erased: k.Erased}
		if k.InstructorID != "" {
			out[i].Learns = &access.Learns{Instructor: k.InstructorID, StartedOn: string(k.StartedOn)}
		}
	}
	return out, nil
}

// SetMember keeps what the school writes down of a person anew. Somebody who
// looks after the school's people is always left.
func (tx *Tx) SetMember(id string, m access.Member, active bool, day string) error {
	if err := tx.lockMembers(); err != nil {
		return err
	}
	kept, err := take[membership](tx.own(&membership{}).Where("account_id = ?", id))
	switch {
	case err != nil:
		return err
	case kept.ErasedAt != nil:
		return form.Bad("active", "cannot be changed: the person's name is gone from the school")
	case active:
		kept.LeftOn = ""
	case kept.LeftOn == "":
		kept.LeftOn = Date(day)
	}
	err = tx.own(&membership{}).Where("account_id = ?", id).Select("Name", "Roles", "Active", "Number", "LeftOn").
		Updates(membership{Name: m.Name, Roles: m.Roles, Active: active, Number: m.Number, LeftOn: kept.LeftOn}).Error
	if err != nil {
		return fmt.Errorf("changing a member: %w", err)
	}
	if active != kept.Active { // whoever comes or goes takes no code along
		if err := tx.endRecovery(id); err != nil {
			return err
		}
	}
	var left int64
	governing := tx.own(&membership{}).Where("active and jsonb_exists_any(roles, array['chief', 'admin'])")
	if err := governing.Count(&left).Error; err != nil {
		return err
	}
	if left == 0 {
		return form.Bad("roles",
			"would leave nobody who looks after the school's people: somebody must be chief instructor or administrator")
	}
	return tx.learns(id, m, day)
}

// lockMembers keeps two changes of people from undoing each other's condition.
func (tx *Tx) lockMembers() error {
	return tx.db.Exec("select pg_advisory_xact_lock(hashtextextended('members ' || ?, 0))", tx.School).Error
}

// learns enrols a student, or changes what one learns with whom. Records stay
// where they are: what was observed on another class counts for that class.
func (tx *Tx) learns(id string, m access.Member, day string) error {
	if m.Learns == nil {
		return nil
	}
	if err := tx.teaches(m.Learns.Instructor); err != nil {
		return err
	}
	before, err := tx.Student(id)
	known := err == nil
	if err != nil && !errors.Is(err, ErrNotFound) {
		return err
	}
	s := Student{
		ID: id, InstructorID: m.Learns.Instructor, Class: before.Class, EngineKind: before.EngineKind,
		StartType: before.StartType, StartedOn: Date(m.Learns.StartedOn),
	}
	if m.Learns.Type != "" || !known {
		t, err := tx.typeInForce("learns.type", m.Learns.Type, day)
		if err != nil {
			return err
		}
		s.Class, s.EngineKind, s.StartType = t.Class, t.EngineKind, t.StartType
	}
	if !known {
		return tx.AddStudent(s)
	}
	return tx.own(&student{}).Where("id = ?", id).Updates(map[string]any{"instructor_id": s.InstructorID,
		"class":       s.Class,
		"engine_kind": s.EngineKind, "start_type": s.StartType, "started_on": s.StartedOn}).Error
}

// teaches refuses somebody who cannot be a student's instructor.
func (tx *Tx) teaches(account string) error {
	roles, err := tx.RolesOf(account)
	if err != nil && !errors.Is(err, ErrNotFound) {
		return err
	}
	if !roles.Teach() {
		return form.Bad("learns.instructor", "does not teach at the school")
	}
	return nil
}

// Invitation is a place in the school that waits for its person, who comes in by
// a link and a one-time code.
type Invitation struct {
	ID string `json:"id"`
	access.Member
	// Code is a hash.
	Code        string     `json:"-"`
	InvitedBy   string     `json:"-"`
	InvitedAt   time.Time  `json:"invitedAt"`
	Until       time.Time  `json:"until"`
	UsedAt      *time.Time `json:"usedAt,omitempty"`
	WithdrawnAt *time.Time `json:"withdrawnAt,omitempty"`
}

// Open reports whether somebody can still come in by it.
func (i Invitation) Open(now time.Time) bool {
	return i.UsedAt == nil && i.WithdrawnAt == nil && now.Before(i.Until)
}

type invitationRow struct {
	SchoolID    string
	ID          string
	Email       string
	Name        string
	Roles       access.Roles `gorm:"serializer:json"`
	Number      string
	Learns      *string
	Code        string
	InvitedBy   string
	InvitedAt   time.Time
	Until       time.Time
	UsedAt      *time.Time
	WithdrawnAt *time.Time
}

func (invitationRow) TableName() string { return "invitations" }

func (r invitationRow) invitation() (Invitation, error) {
	out := Invitation{ID: r.ID, Member: access.Member{Name: r.Name, Email: r.Email, Roles: r.Roles, Number: r.Number},
		Code:      r.Code,
		InvitedBy: r.InvitedBy, InvitedAt: r.InvitedAt, Until: r.Until, UsedAt: r.UsedAt, WithdrawnAt: r.WithdrawnAt}
	if r.Learns == nil {
		return out, nil
	}
	return out, json.Unmarshal([]byte(*r.Learns), &out.Learns)
}

// Invite keeps a place for somebody. A person who is of the school already, or
// whose place waits, is not invited again.
func (tx *Tx) Invite(i Invitation, day string) error {
	if err := tx.lockMembers(); err != nil {
		return err
	}
	var n int64
	err := tx.db.Table("memberships m").Joins("join accounts a on a.id = m.account_id").
		Where("m.school_id = ? and a.email = ?", tx.School, i.Email).Count(&n).Error
	if err == nil && n > 0 {
		return form.Bad("email", "belongs to somebody who is or was of the school: change or return them instead")
	}
	if err == nil {
		err = tx.own(&invitationRow{}).Where("email = ? and used_at is null and withdrawn_at is null and until > ?",
			i.Email, i.InvitedAt).Count(&n).Error
	}
	if err != nil {
		return fmt.Errorf("looking for who is invited: %w", err)
	}
	if n > 0 {
		return form.Bad("email", "is invited already: renew that code instead")
	}
	row := invitationRow{SchoolID: tx.School, ID: i.ID, Email: i.Email, Name: i.Name, Roles: i.Roles, Number: i.Number,
		Code:      i.Code,
		InvitedBy: i.InvitedBy, InvitedAt: i.InvitedAt, Until: i.Until}
	if i.Learns != nil {
		if err := tx.fits(i.Member, day); err != nil {
			return err
		}
		text, err := json.Marshal(i.Learns)
		if err != nil {
			return err
		}
		row.Learns = new(string)
		*row.Learns = string(text)
	}
	return tx.db.Create(&row).Error
}

// fits refuses a type or an instructor that the school does not have.
func (tx *Tx) fits(m access.Member, day string) error {
	if err := tx.teaches(m.Learns.Instructor); err != nil {
		return err
	}
	_, err := tx.typeInForce("learns.type", m.Learns.Type, day)
	return err
}

// Invitations lists those that were not used, the newest first.
func (tx *Tx) Invitations() ([]Invitation, error) {
	kept, err := find[invitationRow](tx.own(&invitationRow{}).Where("used_at is null and withdrawn_at is null").
		Order("invited_at desc, id").Limit(membersMost))
	out := make([]Invitation, len(kept))
	for i, k := range kept {
		if out[i], err = k.invitation(); err != nil {
			break
		}
	}
	return out, err
}

// Invitation finds one.
func (tx *Tx) Invitation(id string) (Invitation, error) {
	row, err := take[invitationRow](tx.own(&invitationRow{}).Where("id = ?", id))
	if err != nil {
		return Invitation{}, err
	}
	return row.invitation()
}

// RenewInvitation gives an unused invitation another code and more time.
func (tx *Tx) RenewInvitation(id, code string, until time.Time) error {
	return tx.changeInvitation(id, map[string]any{"code": code, "until": until})
}

// WithdrawInvitation ends an unused invitation.
func (tx *Tx) WithdrawInvitation(id string, now time.Time) error {
	return tx.changeInvitation(id, map[string]any{"withdrawn_at": now})
}

func (tx *Tx) changeInvitation(id string, to map[string]any) error {
	done := tx.own(&invitationRow{}).Where("id = ? and used_at is null and withdrawn_at is null", id).Updates(to)
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrNotFound
	}
	return done.Error
}

// Enter lets an invited person in, as an account that is known or as a new one.
// An invitation is used once, whoever comes at the same time.
func (tx *Tx) Enter(i Invitation, a Account, fresh bool, day string, now time.Time) error {
	if err := tx.lockMembers(); err != nil {
		return err
	}
	if err := tx.changeInvitation(i.ID, map[string]any{"used_at": now}); err != nil {
		return err
	}
	if fresh {
		a.DeviceKeys, a.Passkeys = []DeviceKey{}, []json.RawMessage{}
		if err := tx.db.Create(&a).Error; err != nil {
			return err
		}
	}
	kept, err := take[membership](tx.own(&membership{}).Where("account_id = ?", a.ID))
	switch {
	case errors.Is(err, ErrNotFound):
		err = tx.db.Create(&membership{
			SchoolID: tx.School, AccountID: a.ID, Name: i.Name, Roles: i.Roles, Active: true, Number: i.Number,
		}).Error
	case err == nil && (kept.Active || kept.ErasedAt != nil):
		return form.Bad("email", "is of the school already: sign in")
	case err == nil: // their place was kept for them
		err = tx.own(&membership{}).Where("account_id = ?", a.ID).Select("Name", "Roles", "Active", "Number", "LeftOn").
			Updates(membership{Name: i.Name, Roles: i.Roles, Active: true, Number: i.Number}).Error
	}
	if err != nil {
		return err
	}
	if err := tx.endRecovery(a.ID); err != nil {
		return err
	}
	return tx.learns(a.ID, i.Member, day)
}
