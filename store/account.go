package store

import (
	"context"
	"fmt"
	"time"

	"gorm.io/gorm"

	"jetprimer/internal/onetime"
)

// SignedIn is one session of a person.
type SignedIn struct {
	Token   string    `json:"-"`
	BeganAt time.Time `json:"beganAt"`
	SeenAt  time.Time `json:"seenAt" doc:"to five minutes"`
	Address string    `json:"address"`
	Device  string    `json:"device"`
}

// Begun notes whose a session is, at which school, from where, and for how many hours it
// may rest before it ends.
func (s *Store) Begun(ctx context.Context, token, account, school string, hours int, address, device string,
	now time.Time) error {
	return plain(s.db.WithContext(ctx).Model(&session{}).Where("token = ?", token).Updates(map[string]any{
		"idle": gorm.Expr("make_interval(hours => ?)", hours), "account_id": account, "at_school": school,
		"began_at": now, "address": address, "device": device}).Error)
}

// SessionsOf lists where a person is signed in, the latest first: at one school, or
// everywhere when none is named.
func (s *Store) SessionsOf(ctx context.Context, account, school string) ([]SignedIn, error) {
	query := s.db.WithContext(ctx).Model(&session{}).
		Where("account_id = ? and expiry > now() and seen_at > now() - idle", account).Order("began_at desc").Limit(100)
	if school != "" {
		query = query.Where("at_school = ?", school)
	}
	out, err := find[SignedIn](query)
	return out, plain(err)
}

// EndSessions signs a person out everywhere but in one session.
func (s *Store) EndSessions(ctx context.Context, account, but string) error {
	return plain(s.db.WithContext(ctx).Where("account_id = ? and token <> ?", account, but).Delete(&session{}).Error)
}

// EndSession signs a person out of one session of theirs.
func (s *Store) EndSession(ctx context.Context, account, token string) error {
	return plain(s.db.WithContext(ctx).Where("account_id = ? and token = ?", account, token).Delete(&session{}).Error)
}

// SetSecond keeps the secret of a person's second factor; nil takes it away.
func (s *Store) SetSecond(ctx context.Context, account string, secret []byte, used int64) error {
	var kept []byte
	if secret != nil {
		var err error
		if kept, err = s.rebox(secret, []byte("second "+account)); err != nil {
			return err
		}
	}
	return plain(s.db.WithContext(ctx).Model(&Account{}).Where("id = ?", account).Updates(map[string]any{
		"second": kept, "second_used": used,
	}).Error)
}

// Second is the secret of an account's second factor; nil for none.
func (s *Store) Second(a Account) ([]byte, error) {
	if len(a.Second) == 0 {
		return nil, nil
	}
	secret, err := s.unbox(a.Second, []byte("second "+a.ID))
	if err != nil {
		return nil, fmt.Errorf("a second factor cannot be read: %w", err)
	}
	return secret, nil
}

// UseSecond notes the step of which a code was used; false says that it was used
// meanwhile. A step of a clock that was ahead is passed over.
func (s *Store) UseSecond(ctx context.Context, account string, step int64) (bool, error) {
	done := s.db.WithContext(ctx).Model(&Account{}).Where("id = ? and (second_used < ? or second_used > ?)", account,
		step, step+onetime.Ahead).Update("second_used", step)
	return done.RowsAffected == 1, plain(done.Error)
}

// noRecovery is an account that no code opens.
var noRecovery = map[string]any{"recovery": "", "recovery_until": nil, "recovery_school": nil}

// AskRecovery keeps the hash of a code of the school, by which a member comes back to
// their account until a time, and tells them so.
func (tx *Tx) AskRecovery(account, hash, words string, until, now time.Time) error {
	if err := tx.db.Model(&Account{}).Where("id = ?", account).Updates(map[string]any{
		"recovery": hash, "recovery_until": until, "recovery_school": tx.School,
	}).Error; err != nil {
		return err
	}
	return tx.Notify(account, words, now)
}

// endRecovery ends what code there is to come back to an account.
func (tx *Tx) endRecovery(account string) error {
	return tx.db.Model(&Account{}).Where("id = ?", account).Updates(noRecovery).Error
}

// Recover gives an account another password by its code, once: what else signed
// in or signed beside the password is gone, and nobody is signed in by it.
func (s *Store) Recover(ctx context.Context, a Account, password string) error {
	return plain(s.db.WithContext(ctx).Transaction(func(db *gorm.DB) error {
		done := db.Model(&Account{}).Where("id = ? and recovery = ? and recovery <> ''", a.ID,
			a.Recovery).Updates(map[string]any{
			"password": password, "pin": "", "device_keys": "[]", "passkeys": "[]", "second": nil, "second_used": 0,
			"recovery": "", "recovery_until": nil, "recovery_school": nil})
		if done.Error != nil {
			return done.Error
		}
		if done.RowsAffected == 0 {
			return ErrNotFound
		}
		if err := db.Where("account_id = ?", a.ID).Delete(&knownDevice{}).Error; err != nil {
			return err
		}
		return db.Where("account_id = ?", a.ID).Delete(&session{}).Error
	}))
}

// Signed is a seal that a person set.
type Signed struct {
	Number       int64     `json:"number" doc:"in the school's chain"`
	Subject      string    `json:"subject" doc:"lesson, acknowledgement or version"`
	At           time.Time `json:"at"`
	LessonID     string    `json:"lessonId,omitempty"`
	Student      string    `json:"student,omitempty"`
	Registration string    `json:"registration,omitempty"`
}

// SignedBy lists what a person signed in the school, the latest first.
func (tx *Tx) SignedBy(account string, most int) ([]Signed, error) {
	return find[Signed](tx.db.Table("seals k").Select(`k.number, k.subject, k.signed_at as at, coalesce(k.lesson_id::text, '') as lesson_id,
		coalesce(a.name, '') as student, coalesce(l.registration, '') as registration`).
		Joins("left join lessons l on l.school_id = k.school_id and l.id = k.lesson_id").
		Joins("left join memberships a on a.school_id = l.school_id and a.account_id = l.student_id").
		Where("k.school_id = ? and k.signed_by = ?", tx.School,
			account).Order("k.signed_at desc, k.number desc").Limit(most))
}
