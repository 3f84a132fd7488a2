package store

import (
	"context"
	"fmt"
	"time"

	"gorm.io/gorm"
)

// SignedIn is one session of a person.
type SignedIn struct {
	Token   string    `json:"-"`
	BeganAt time.Time `json:"beganAt"`
	SeenAt  time.Time `json:"seenAt" doc:"to five minutes"`
	Address string    `json:"address"`
	Device  string    `json:"device"`
}

// Begun notes whose a session is, from where, and for how many hours it may rest
// before it ends.
func (s *Store) Begun(ctx context.Context, token, account string, hours int, address, device string, now time.Time) error {
	return plain(s.db.WithContext(ctx).Model(&session{}).Where("token = ?", token).Updates(map[string]any{
		"idle": gorm.Expr("make_interval(hours => ?)", hours), "account_id": account, "began_at": now, "address": address, "device": device}).Error)
}

// SessionsOf lists where a person is signed in, the latest first.
func (s *Store) SessionsOf(ctx context.Context, account string) ([]SignedIn, error) {
	out, err := find[SignedIn](s.db.WithContext(ctx).Model(&session{}).
		Where("account_id = ? and expiry > now() and seen_at > now() - idle", account).Order("began_at desc").Limit(100))
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
	return plain(s.db.WithContext(ctx).Model(&Account{}).Where("id = ?", account).Updates(map[string]any{"second": kept, "second_used": used}).Error)
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
// meanwhile.
func (s *Store) UseSecond(ctx context.Context, account string, step int64) (bool, error) {
	done := s.db.WithContext(ctx).Model(&Account{}).Where("id = ? and second_used < ?", account, step).Update("second_used", step)
	return done.RowsAffected == 1, plain(done.Error)
}

// AskRecovery keeps the hash of a code by which a person comes back to their
// account until a time.
func (s *Store) AskRecovery(ctx context.Context, account, hash string, until time.Time) error {
	return plain(s.db.WithContext(ctx).Model(&Account{}).Where("id = ?", account).Updates(map[string]any{"recovery": hash, "recovery_until": until}).Error)
}

// Recover gives an account another password by its code, once: what else signed
// in or signed beside the password is gone, and nobody is signed in by it.
func (s *Store) Recover(ctx context.Context, a Account, password string) error {
	return plain(s.db.WithContext(ctx).Transaction(func(db *gorm.DB) error {
		done := db.Model(&Account{}).Where("id = ? and recovery = ? and recovery <> ''", a.ID, a.Recovery).Updates(map[string]any{
			"password": password, "pin": "", "device_keys": "[]", "passkeys": "[]", "second": nil, "second_used": 0, "recovery": "", "recovery_until": nil})
		if done.Error != nil {
			return done.Error
		}
		if done.RowsAffected == 0 {
			return ErrNotFound
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
		Joins("left join lessons l on l.school_id = k.school_id and l.id = k.lesson_id").Joins("left join accounts a on a.id = l.student_id").
		Where("k.school_id = ? and k.signed_by = ?", tx.School, account).Order("k.signed_at desc, k.number desc").Limit(most))
}
