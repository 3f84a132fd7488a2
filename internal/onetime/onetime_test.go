package onetime_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/internal/onetime"
)

// TestCodesOfAnAuthenticator: the published vectors of RFC 6238, appendix B, for
// HMAC-SHA-1, of which six digits are shown; a code serves once, and only around its time.
func TestCodesOfAnAuthenticator(t *testing.T) {
	secret := []byte("12345678901234567890")
	code := func(step int64) string {
		out, err := onetime.Code(secret, step)
		require.NoError(t, err)
		return out
	}
	for at, want := range map[int64]string{
		59: "94287082", 1111111109: "07081804", 1111111111: "14050471", 1234567890: "89005924", 2000000000: "69279037",
		20000000000: "65353130",
	} {
		assert.Equal(t, want[2:], code(onetime.StepAt(time.Unix(at, 0))))
	}
	now := time.Unix(1111111111, 0)
	here := onetime.StepAt(now)
	for step, serves := range map[int64]bool{
		here - 2: false, here - 1: true, here: true, here + 1: true, here + 2: false,
	} {
		found, ok := onetime.Step(secret, code(step), now, 0)
		assert.Equal(t, serves, ok, step-here)
		if ok {
			assert.Equal(t, step, found)
		}
	}
	shown := code(here)
	_, ok := onetime.Step(secret, shown[:3]+" "+shown[3:], now, here-1)
	assert.True(t, ok, "as authenticators show it")
	_, ok = onetime.Step(secret, shown, now, here)
	assert.False(t, ok, "used")
	_, ok = onetime.Step(secret, "", now, 0)
	assert.False(t, ok)
	assert.Equal(t, "GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ", onetime.Words(secret))
	assert.Equal(t,
		"otpauth://totp/Jet%20Primer%20Fen%20Row:nell@fenrow.example"+
			"?issuer=Jet+Primer+Fen+Row&secret=GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ",
		onetime.URI("Fen Row", "nell@fenrow.example", secret))
}
