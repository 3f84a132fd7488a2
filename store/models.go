package store

import (
	"database/sql/driver"
	"encoding/json"
	"fmt"
	"time"

	"jetprimer/core/access"
	"jetprimer/core/quantity"
	"jetprimer/core/record"
	"jetprimer/core/school"
)

// Date is a day in a column of type date, such as 2026-11-24; empty is null.
type Date string

// Scan reads the day from its column.
func (d *Date) Scan(from any) error {
	switch v := from.(type) {
	case nil:
		*d = ""
	case time.Time:
		*d = Date(v.Format(time.DateOnly))
	case string:
		*d = Date(v)
	default:
		return fmt.Errorf("a day cannot be read from %T", from)
	}
	return nil
}

// Value writes the day for its column.
func (d Date) Value() (driver.Value, error) {
	if d == "" {
		return nil, nil
	}
	return string(d), nil
}

// IDs is a list of ids, kept as JSON.
type IDs []string

// Scan reads the list from its column.
func (n *IDs) Scan(from any) error {
	switch v := from.(type) {
	case []byte:
		return json.Unmarshal(v, n)
	case string:
		return json.Unmarshal([]byte(v), n)
	}
	return fmt.Errorf("a list of names cannot be read from %T", from)
}

// Value writes the list for its column.
func (n IDs) Value() (driver.Value, error) {
	if n == nil {
		n = IDs{}
	}
	data, err := json.Marshal([]string(n))
	return string(data), err
}

// The models of ordinary records. Every table of a school has its id in front
// of its key; queries name it besides the guard that the database keeps.

// School is one school.
type School struct {
	ID        string
	Name      string
	TimeZone  string
	IdleHours int
	Settings  school.Settings `gorm:"serializer:json"`
	// Letters is the encrypted server for the school's letters, nil for none.
	Letters   []byte
	CreatedAt time.Time
}

// TableName is where schools are kept.
func (School) TableName() string { return "schools" }

// Account is a person who can sign in. Password is an argon2id hash.
type Account struct {
	ID       string
	Email    string
	Name     string
	Password string
	// Pin is the hash of the number that signs beside the password, empty for
	// none.
	Pin string
	// DeviceKeys are those of the devices that the PIN opens.
	DeviceKeys []DeviceKey `gorm:"serializer:json"`
	// Passkeys are as the library that checks them keeps them.
	Passkeys []json.RawMessage `gorm:"serializer:json"`
	// Units are those that the person reads instead of the school's.
	Units quantity.Units `gorm:"serializer:json"`
	// Second is the encrypted secret of the second factor, empty for none, and
	// SecondUsed the last step of which a code was used.
	Second     []byte
	SecondUsed int64
	// Recovery is the hash of a code to come back by, until a time, and RecoverySchool
	// the school that gave it out.
	Recovery       string
	RecoveryUntil  *time.Time
	RecoverySchool *string
}

// DeviceKey is the public key of a device: ECDSA on P-256, the point
// uncompressed.
type DeviceKey struct {
	ID     string    `json:"id"`
	Public []byte    `json:"public"`
	MadeAt time.Time `json:"madeAt"`
}

// TableName is where accounts are kept.
func (Account) TableName() string { return "accounts" }

type membership struct {
	SchoolID  string
	AccountID string
	// Name is what the school calls the person; empty at first is as their account is.
	Name   string
	Roles  access.Roles `gorm:"serializer:json"`
	Active bool
	// Number is the school's own for the person.
	Number string
	// LeftOn is the day the person left; ErasedAt when their name went.
	LeftOn   Date
	ErasedAt *time.Time
}

func (membership) TableName() string { return "memberships" }

type student struct {
	SchoolID     string
	ID           string
	InstructorID string
	Class        string
	EngineKind   string
	StartType    string
	StartedOn    Date
}

func (student) TableName() string { return "students" }

type share struct {
	SchoolID   string
	StudentID  string
	ExaminerID string
	Until      Date
}

func (share) TableName() string { return "shares" }

type aircraftRow struct {
	SchoolID string
	Aircraft
}

func (aircraftRow) TableName() string { return "aircraft" }

type equipmentChange struct {
	SchoolID     string
	Registration string
	FromOn       Date
	Equipment    IDs
	ChangedBy    string
	ChangedAt    time.Time
}

func (equipmentChange) TableName() string { return "equipment_changes" }

type libraryRow struct {
	SchoolID      string
	Kind          string
	ID            string
	Version       int
	AircraftType  string
	Title         string
	Body          string
	Status        string
	Revision      int `gorm:"default:1"`
	InForceFrom   Date
	WithdrawnFrom Date
	WrittenBy     string
	WrittenAt     time.Time
	Writers       IDs
	ReviewedBy    *string
	ReviewedAt    *time.Time
	ApprovedBy    *string
	ApprovedAt    *time.Time
	WithdrawnBy   *string
	WithdrawnAt   *time.Time
}

func (libraryRow) TableName() string { return "library" }

type signingKey struct {
	SchoolID string
	ID       string
	Public   []byte
	Private  []byte
	MadeAt   time.Time
}

func (signingKey) TableName() string { return "signing_keys" }

type sealRow struct {
	SchoolID  string
	Number    int64
	Subject   string
	Format    int
	LessonID  *string
	EventID   *string
	Content   []byte
	Previous  []byte
	Hash      []byte
	KeyID     string
	Signature []byte
	SignedBy  string
	SignedAt  time.Time
}

func (sealRow) TableName() string { return "seals" }

// link is the seal in its place of the chain.
func (k sealRow) link() record.Link {
	return record.Link{
		Number: k.Number, Format: k.Format, Content: k.Content, Previous: k.Previous, Hash: k.Hash, KeyID: k.KeyID,
		Signature: k.Signature,
	}
}

type lessonRow struct {
	SchoolID     string
	ID           string
	StudentID    *string // nil of a maintenance run
	InstructorID string
	Registration string
	OpenedAt     time.Time
	Opened       string
	OpenedEvent  string
	Status       string
	Marked       int
	Total        int
	Phases       string
	LastSeq      int64
	Observers    IDs
	Flag         string
}

func (lessonRow) TableName() string { return "lessons" }

type session struct {
	Token  string
	Data   []byte
	Expiry time.Time
}

func (session) TableName() string { return "sessions" }

type attempt struct {
	ID  int64
	Key string
	At  time.Time
}

func (attempt) TableName() string { return "login_attempts" }

// AuditEntry is one line of the audit: what somebody did to sign-ins, roles,
// signatures and versions, from which address.
type AuditEntry struct {
	At        time.Time
	SchoolID  *string
	AccountID *string
	Address   string
	What      string
	Subject   string
}

// TableName is where deeds are kept.
func (AuditEntry) TableName() string { return "audit" }

type picture struct {
	SchoolID   string
	LessonID   string
	Hash       string
	Data       []byte
	SentBy     string
	ReceivedAt time.Time
}

func (picture) TableName() string { return "pictures" }

type returned struct {
	SchoolID   string
	LessonID   string
	EventID    string
	Words      string
	Retest     string
	RunID      *string
	ReturnedBy string
	ReturnedAt time.Time
}

func (returned) TableName() string { return "returns" }

// criticalDecision is the chief instructor's on a critical error whose condition
// does not come again.
type criticalDecision struct {
	SchoolID  string `gorm:"primaryKey"`
	StudentID string `gorm:"primaryKey"`
	LessonID  string `gorm:"primaryKey"`
	Item      string `gorm:"primaryKey"`
	Why       string
	DecidedBy string
	DecidedAt time.Time
}
