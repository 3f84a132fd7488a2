package api

import (
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/google/uuid"
)

// NewID is a UUID of version 7, for what is made here.
func NewID() string { return uuid.Must(uuid.NewV7()).String() }

// FreshCode is a one-time code, and the hash that is kept of it.
func FreshCode() (code, hash string, err error) {
	code = rand.Text()[:10]
	hash, err = argon2id.CreateHash(code, hashingCodes)
	return code, hash, err
}

// JoinPath is the path of the page that an invitation opens.
func JoinPath(school, id string) string { return "/join/" + school + "/" + id }

// Invited is an invitation that was just made or renewed. Its code is shown
// this once.
type Invited struct {
	ID    string    `json:"id"`
	Path  string    `json:"path" doc:"of the page at this address"`
	Code  string    `json:"code"`
	Until time.Time `json:"until"`
	// Sent says that link and code went to the person's address by letter; Unsent why
	// they did not, where that was asked for.
	Sent   bool   `json:"sent"`
	Unsent string `json:"unsent,omitempty"`
}

// InvitationDays is for how long an invitation waits.
const InvitationDays = 14

// KeptToken is a session's token as the session manager keeps it.
func KeptToken(token string) string {
	sum := sha256.Sum256([]byte(token))
	return base64.RawURLEncoding.EncodeToString(sum[:])
}

// hashing are the parameters of password hashes. They are the same for every
// account, and for none, on whatever machine: the cost tells nothing.
var hashing = &argon2id.Params{Memory: 64 * 1024, Iterations: 1, Parallelism: 2, SaltLength: 16, KeyLength: 32}

// hashingCodes are the parameters for one-time codes. These are 50 random bits
// that hold for days, of which nobody tries many; hundreds are made at once.
var hashingCodes = &argon2id.Params{Memory: 4 * 1024, Iterations: 1, Parallelism: 1, SaltLength: 16, KeyLength: 32}

// HashPassword is the hash of a password, as accounts keep it.
func HashPassword(password string) (string, error) { return argon2id.CreateHash(password, hashing) }

// Post notes whether a letter was sent.
func (i *Invited) Post(err error) {
	i.Sent = err == nil
	if err != nil {
		i.Unsent = Sentence(err.Error())
	}
}

// Welcome is somebody invited, with the link and the code to come in by.
type Welcome struct {
	ID   string `json:"id" doc:"of the invitation"`
	Name string `json:"name"`
	Path string `json:"path"`
	Code string `json:"code"`
}
