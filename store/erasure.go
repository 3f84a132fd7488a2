package store

import (
	"fmt"
	"time"

	"jetprimer/core/school"
)

// Leaver is what erasing a person's name rests on.
func (tx *Tx) Leaver(id string) (school.Leaver, error) {
	m, err := tx.Member(id)
	if err != nil {
		return school.Leaver{}, err
	}
	l := school.Leaver{Name: m.Name, Active: m.Active, LeftOn: m.LeftOn, Erased: m.Erased}
	elsewhere := func() error {
		if err := tx.db.Exec("select set_config('app.account', ?, true)", id).Error; err != nil {
			return err
		}
		if l.Elsewhere, err = row[int](tx, "select count(*) from memberships where account_id = ? and school_id <> ?",
			id, tx.School); err != nil {
			return err
		}
		return tx.db.Exec("select set_config('app.account', '', true)").Error
	}
	if err := elsewhere(); err != nil {
		return l, fmt.Errorf("looking where else somebody belongs: %w", err)
	}
	l.Unsigned, err = row[int](tx,
		"select count(*) from lessons where school_id = ? and status <> 'signed' and (student_id = ? or "+
			"instructor_id = ?)", tx.School, id, id)
	return l, err
}

// Erase replaces a person's name and address by a pseudonym, and takes away all
// by which they sign in. Events and seals name people by ids only, and stay as
// they are and provable; what an instructor signed keeps the name it was signed
// with. typed is the name as whoever asks for it has typed it.
func (tx *Tx) Erase(id, typed string, now time.Time) error {
	if err := tx.lockMembers(); err != nil {
		return err
	}
	l, err := tx.Leaver(id)
	if err != nil {
		return err
	}
	if err := l.MayErase(typed); err != nil {
		return err
	}
	head, err := tx.bump()
	if err != nil {
		return err
	}
	before, err := tx.Member(id)
	if err != nil {
		return err
	}
	name, email := school.Pseudonym(id), school.PseudonymEmail(id)
	for _, step := range []struct {
		what string
		args []any
	}{
		{
			"update accounts set name = ?, email = ?, password = '', pin = '', device_keys = '[]', passkeys = '[]', " +
				"second = null, recovery = '', recovery_until = null, recovery_school = null where id = ?",
			[]any{name, email, id},
		},
		{"delete from known_devices where account_id = ?", []any{id}},
		{"delete from sessions where account_id = ?", []any{id}},
		{
			"update memberships set name = ?, number = '', erased_at = ? where school_id = ? and account_id = ?",
			[]any{name, now, tx.School, id},
		},
		{
			"update invitations set name = ?, email = ? where school_id = ? and email = ?",
			[]any{name, email, tx.School, before.Email},
		},
		{"update away set why = '' where school_id = ? and account_id = ?", []any{tx.School, id}},
		{
			"delete from live_wishes where school_id = ? and run_id in (select id from live_runs where school_id = " +
				"? and account_id = ?)",
			[]any{tx.School, tx.School, id},
		},
		{"delete from live_runs where school_id = ? and account_id = ?", []any{tx.School, id}},
		{"delete from practice_runs where school_id = ? and student_id = ?", []any{tx.School, id}},
		{"delete from standby where school_id = ? and student_id = ?", []any{tx.School, id}},
		{"delete from kept_reports where school_id = ?", []any{tx.School}}, // they name people
		{"delete from calendars where school_id = ? and account_id = ?", []any{tx.School, id}},
		{"update record_shares set whom = '' where school_id = ? and student_id = ?", []any{tx.School, id}},
	} {
		if err := tx.db.Exec(step.what, step.args...).Error; err != nil {
			return fmt.Errorf("erasing a name: %w", err)
		}
	}
	return tx.changed(head.Seq, "member", id)
}
