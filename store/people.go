package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"strings"
	"time"

	"gorm.io/gorm"

	"jetprimer/core/access"
	"jetprimer/core/quantity"
	"jetprimer/core/school"
)

// Membership is a person's place in a school.
type Membership struct {
	SchoolID string `json:"schoolId"`
	School   string `json:"school"`
	// Name is what the school calls the person.
	Name string `json:"name"`
	// Roles are those that the person has there.
	Roles     access.Roles `json:"roles" gorm:"serializer:json"`
	TimeZone  string       `json:"timeZone"`
	IdleHours int          `json:"idleHours"`
	// Settings are the school's, Units those that the person reads instead.
	Settings school.Settings `json:"settings" gorm:"serializer:json"`
	Units    quantity.Units  `json:"units" gorm:"serializer:json"`
	// HasPin says that the person has a number to sign with.
	HasPin bool `json:"hasPin"`
	// HasPasskey says that a device of theirs has one.
	HasPasskey bool `json:"hasPasskey"`
	// HasSecond says that one-time codes are asked for at the sign-in.
	HasSecond bool `json:"hasSecond"`
	// HasLetters says that the school has a server for letters of its own.
	HasLetters bool `json:"-"`
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
	a, err := take[Account](s.db.WithContext(ctx).Where(where, arg))
	return a, plain(err)
}

// SetPassword keeps another hash of a person's password. A code to come back by is over.
func (s *Store) SetPassword(ctx context.Context, account, hash string) error {
	changed := map[string]any{"password": hash}
	maps.Copy(changed, noRecovery)
	return plain(s.db.WithContext(ctx).Model(&Account{}).Where("id = ?", account).Updates(changed).Error)
}

// SetPin keeps the hash of the number that signs beside the password, and the
// keys of the devices that it opens.
func (s *Store) SetPin(ctx context.Context, account, hash string, keys []DeviceKey) error {
	if keys == nil {
		keys = []DeviceKey{}
	}
	return plain(s.db.WithContext(ctx).Model(&Account{}).Where("id = ?", account).Select("Pin",
		"DeviceKeys").Updates(Account{
		Pin: hash, DeviceKeys: keys,
	}).Error)
}

// SetPasskeys keeps the passkeys of a person's devices.
func (s *Store) SetPasskeys(ctx context.Context, account string, keys []json.RawMessage) error {
	return plain(s.db.WithContext(ctx).Model(&Account{}).Where("id = ?", account).Select("Passkeys").Updates(Account{
		Passkeys: keys,
	}).Error)
}

// SetUnits keeps the units that a person reads instead of the school's.
func (s *Store) SetUnits(ctx context.Context, account string, units quantity.Units) error {
	return plain(s.db.WithContext(ctx).Model(&Account{}).Where("id = ?", account).Select("Units").Updates(Account{
		Units: units,
	}).Error)
}

// SchoolName is the school's name.
func (tx *Tx) SchoolName() (string, error) {
	s, err := take[School](tx.db.Where("id = ?", tx.School))
	return s.Name, err
}

// SetSettings keeps what the school decides for itself.
func (tx *Tx) SetSettings(settings school.Settings) error {
	return plain(tx.db.Model(&School{}).Where("id = ?",
		tx.School).Select("Settings").Updates(School{Settings: settings}).Error)
}

// Memberships lists the schools a person belongs to and has not left.
func (s *Store) Memberships(ctx context.Context, account string) ([]Membership, error) {
	out := []Membership{}
	err := s.db.WithContext(ctx).Transaction(func(db *gorm.DB) error {
		if err := db.Exec("select set_config('app.account', ?, true)", account).Error; err != nil {
			return err
		}
		return db.Table("memberships m").Select("m.school_id, s.name as school, m.name, m.roles, s.time_zone, "+
			"s.idle_hours, s.settings, a.units, a.pin <> '' as has_pin, json_array_length(a.passkeys) > 0 as "+
			"has_passkey, a.second is not null as has_second, s.letters is not null as has_letters").
			Joins("join schools s on s.id = m.school_id").Joins("join accounts a on a.id = m.account_id").
			Where("m.account_id = ? and m.active", account).Order("s.name").Find(&out).Error
	})
	if err != nil {
		return nil, fmt.Errorf("reading memberships: %w", plain(err))
	}
	return out, nil
}

// Person is a member of the school.
type Person struct {
	ID    string       `json:"id"`
	Name  string       `json:"name"`
	Roles access.Roles `json:"roles" gorm:"serializer:json"`
}

// People lists the members of the school, all or of some roles, without those
// who have left.
func (tx *Tx) People(roles ...string) ([]Person, error) {
	query := tx.db.Table("memberships m").Select("m.account_id as id, m.name, m.roles").
		Where("m.school_id = ? and m.active", tx.School).Order("m.name, m.account_id")
	if len(roles) > 0 {
		query = query.Where("jsonb_exists_any(m.roles, string_to_array(?, ','))", strings.Join(roles, ","))
	}
	return find[Person](query)
}

// RolesOf are a person's roles in the school; somebody who has left has none.
func (tx *Tx) RolesOf(account string) (access.Roles, error) {
	if !isUUID(account) {
		return nil, ErrNotFound
	}
	m, err := take[membership](tx.own(&membership{}).Where("account_id = ? and active", account))
	return m.Roles, err
}

// AddAccount makes a person who can sign in.
func (s *Store) AddAccount(ctx context.Context, a Account) error {
	if a.DeviceKeys == nil {
		a.DeviceKeys = []DeviceKey{}
	}
	if a.Passkeys == nil {
		a.Passkeys = []json.RawMessage{}
	}
	return plain(s.db.WithContext(ctx).Create(&a).Error)
}

// Join makes a person a member of the school.
func (tx *Tx) Join(account string, roles ...string) error {
	return tx.db.Create(&membership{SchoolID: tx.School, AccountID: account, Roles: roles, Active: true}).Error
}

// Audit writes a line of the audit.
func (s *Store) Audit(ctx context.Context, d AuditEntry) error {
	return plain(s.db.WithContext(ctx).Create(&d).Error)
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

// FindCtx is Find with a context. A session that has rested for longer than its
// school lets it, or that came back with a backup, is none.
func (k Sessions) FindCtx(ctx context.Context, token string) ([]byte, bool, error) {
	type seen struct {
		Data []byte
		Old  bool
	}
	db := k.store.db.WithContext(ctx)
	found, err := take[seen](db.Model(&session{}).Select("data, seen_at < now() - interval '5 minutes' or seen_at > "+
		"now() + interval '1 minute' as old").
		Where("token = ? and expiry > now() and seen_at > now() - idle and home = 'sessions'::regclass::oid", token))
	switch {
	case errors.Is(err, ErrNotFound):
		return nil, false, nil
	case err != nil:
		return nil, false, plain(err)
	case found.Old:
		err = db.Model(&session{}).Where("token = ?", token).Update("seen_at", gorm.Expr("now()")).Error
	}
	return found.Data, err == nil, plain(err)
}

// Commit keeps a session until its expiry.
func (k Sessions) Commit(token string, data []byte, expiry time.Time) error {
	return k.CommitCtx(context.Background(), token, data, expiry)
}

// CommitCtx is Commit with a context.
func (k Sessions) CommitCtx(ctx context.Context, token string, data []byte, expiry time.Time) error {
	return plain(k.store.db.WithContext(ctx).Exec(`insert into sessions (token, data, expiry) values (?, ?, ?)
		on conflict (token) do update set data = excluded.data, expiry = excluded.expiry`, token, data, expiry).Error)
}

// Delete ends a session.
func (k Sessions) Delete(token string) error { return k.DeleteCtx(context.Background(), token) }

// DeleteCtx is Delete with a context; it clears expired sessions as well.
func (k Sessions) DeleteCtx(ctx context.Context, token string) error {
	return plain(k.store.db.WithContext(ctx).Where("token = ? or expiry < now()", token).Delete(&session{}).Error)
}
