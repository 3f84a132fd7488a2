package store

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"gorm.io/gorm"
)

// Account is a person who can sign in. Password is an argon2id hash.
type Account struct {
	ID       string
	Email    string
	Name     string
	Password string
}

// Membership is a person's place in a school.
type Membership struct {
	SchoolID string `json:"schoolId"`
	School   string `json:"school"`
	Role     string `json:"role"`
}

// AccountByEmail finds who signs in under an address.
func (s *Store) AccountByEmail(ctx context.Context, email string) (Account, error) {
	return s.account(ctx, "email = ?", strings.ToLower(strings.TrimSpace(email)))
}

// AccountByID finds a person.
func (s *Store) AccountByID(ctx context.Context, id string) (Account, error) {
	return s.account(ctx, "id = ?", id)
}

func (s *Store) account(ctx context.Context, where string, arg any) (Account, error) {
	var a Account
	err := s.db.WithContext(ctx).Table("accounts").Where(where, arg).Take(&a).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return a, ErrNotFound
	}
	return a, err
}

// Memberships lists the schools a person belongs to.
func (s *Store) Memberships(ctx context.Context, account string) ([]Membership, error) {
	out := []Membership{}
	err := s.db.WithContext(ctx).Transaction(func(db *gorm.DB) error {
		if err := db.Exec("select set_config('app.account', ?, true)", account).Error; err != nil {
			return err
		}
		return db.Raw(`select m.school_id, s.name as school, m.role from memberships m join schools s on s.id = m.school_id
			where m.account_id = ? order by s.name`, account).Scan(&out).Error
	})
	if err != nil {
		return nil, fmt.Errorf("reading memberships: %w", err)
	}
	return out, nil
}

// Attempts counts the failed sign-ins under a key since a moment.
func (s *Store) Attempts(ctx context.Context, key string, since time.Time) (int64, error) {
	var n int64
	err := s.db.WithContext(ctx).Table("login_attempts").Where("key = ? and at > ?", key, since).Count(&n).Error
	return n, err
}

// NoteAttempt counts a failed sign-in, and forgets those older than a day.
func (s *Store) NoteAttempt(ctx context.Context, key string, now time.Time) error {
	return s.db.WithContext(ctx).Transaction(func(db *gorm.DB) error {
		if err := db.Exec("delete from login_attempts where at < ?", now.Add(-24*time.Hour)).Error; err != nil {
			return err
		}
		return db.Exec("insert into login_attempts (key, at) values (?, ?)", key, now).Error
	})
}

// ForgetAttempts clears a key after a sign-in that worked.
func (s *Store) ForgetAttempts(ctx context.Context, key string) error {
	return s.db.WithContext(ctx).Exec("delete from login_attempts where key = ?", key).Error
}

// Sessions keeps login sessions under hashed tokens; it is what the session
// manager calls.
type Sessions struct{ store *Store }

// Sessions is the store of login sessions.
func (s *Store) Sessions() Sessions { return Sessions{s} }

// Find returns a session that has not expired.
func (k Sessions) Find(token string) ([]byte, bool, error) {
	return k.FindCtx(context.Background(), token)
}

// FindCtx is Find with a context.
func (k Sessions) FindCtx(ctx context.Context, token string) ([]byte, bool, error) {
	var data [][]byte
	err := k.store.db.WithContext(ctx).Raw("select data from sessions where token = ? and expiry > now()", token).Scan(&data).Error
	if err != nil || len(data) == 0 {
		return nil, false, err
	}
	return data[0], true, nil
}

// Commit keeps a session until its expiry.
func (k Sessions) Commit(token string, data []byte, expiry time.Time) error {
	return k.CommitCtx(context.Background(), token, data, expiry)
}

// CommitCtx is Commit with a context.
func (k Sessions) CommitCtx(ctx context.Context, token string, data []byte, expiry time.Time) error {
	return k.store.db.WithContext(ctx).Exec(`insert into sessions (token, data, expiry) values (?, ?, ?)
		on conflict (token) do update set data = excluded.data, expiry = excluded.expiry`, token, data, expiry).Error
}

// Delete ends a session.
func (k Sessions) Delete(token string) error { return k.DeleteCtx(context.Background(), token) }

// DeleteCtx is Delete with a context; it clears expired sessions as well.
func (k Sessions) DeleteCtx(ctx context.Context, token string) error {
	return k.store.db.WithContext(ctx).Exec("delete from sessions where token = ? or expiry < now()", token).Error
}

// Person is a member of the school.
type Person struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Role string `json:"role"`
}

// People lists the members of the school, all or of some roles.
func (tx *Tx) People(roles ...string) ([]Person, error) {
	query, args := "", []any{tx.School}
	if len(roles) > 0 {
		query, args = " and m.role in ?", append(args, roles)
	}
	return rows[Person](tx, `select a.id, a.name, m.role from memberships m join accounts a on a.id = m.account_id
		where m.school_id = ?`+query+" order by a.name", args...)
}

// AddSchool makes a school with its feed.
func (s *Store) AddSchool(ctx context.Context, id, name string, now time.Time) error {
	if err := s.db.WithContext(ctx).Exec("insert into schools (id, name, created_at) values (?, ?, ?)", id, name, now).Error; err != nil {
		return fmt.Errorf("adding the school: %w", err)
	}
	return s.In(ctx, id, func(_ context.Context, tx *Tx) error {
		return tx.db.Exec("insert into school_feed (school_id) values (?)", id).Error
	})
}

// AddAccount makes a person who can sign in.
func (s *Store) AddAccount(ctx context.Context, a Account) error {
	return s.db.WithContext(ctx).Table("accounts").Create(&a).Error
}

// Join makes a person a member of the school.
func (tx *Tx) Join(account, role string) error {
	return tx.db.Exec("insert into memberships (school_id, account_id, role) values (?, ?, ?)", tx.School, account, role).Error
}
