package accounts

import (
	"context"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/sha256"
	"encoding/hex"
	"math/big"
	"slices"
	"time"

	"jetprimer/core/form"
	"jetprimer/server/api"
	"jetprimer/store"
)

// devicesMost is how many devices a person's PIN opens at once.
const devicesMost = 8

// How far a device's clock may be ahead of the school's, and how long a promise may wait.
const (
	offlineAhead = 5 * time.Minute
	offlineMost  = 62 * 24 * time.Hour
)

// deviceKey reads the public key of a device.
func deviceKey(public []byte, now time.Time) (store.DeviceKey, error) {
	if _, err := ecdsa.ParseUncompressedPublicKey(elliptic.P256(), public); err != nil {
		return store.DeviceKey{}, form.Bad("device", "is no public key on P-256: %v", err)
	}
	return store.DeviceKey{ID: deviceKeyID(public), Public: public, MadeAt: now}, nil
}

func deviceKeyID(public []byte) string {
	sum := sha256.Sum256(public)
	return hex.EncodeToString(sum[:8])
}

// ProvesOffline holds a promise to the keys of the person's devices, and gives them
// as a signer.
func (s Handlers) ProvesOffline(ctx context.Context, w api.Person, p OfflineSignature,
	over []byte) (store.Signer, error) {
	account, err := s.Store.AccountByID(ctx, w.Account)
	if err != nil {
		return store.Signer{}, err
	}
	i := slices.IndexFunc(account.DeviceKeys, func(k store.DeviceKey) bool { return k.ID == p.Key })
	if i < 0 {
		return store.Signer{}, form.Bad("offline", "is of a device whose PIN is no longer yours: sign again")
	}
	key, err := ecdsa.ParseUncompressedPublicKey(elliptic.P256(), account.DeviceKeys[i].Public)
	if err != nil {
		return store.Signer{}, err
	}
	digest := sha256.Sum256(over)
	if len(p.Signature) != 64 ||
		!ecdsa.Verify(key, digest[:], new(big.Int).SetBytes(p.Signature[:32]),
			new(big.Int).SetBytes(p.Signature[32:])) {
		return store.Signer{}, form.Bad("offline", "is not signed by the device that it names: sign again")
	}
	at, err := time.Parse(time.RFC3339, p.At)
	if now := s.Now(); err != nil || at.After(now.Add(offlineAhead)) || now.Sub(at) > offlineMost {
		return store.Signer{}, form.Bad("offline.at",
			"is %s, which lies ahead of the school's clock or more than %d days ago: the clock of the device is "+
				"wrong. Sign again", form.Clip(p.At), int(offlineMost.Hours()/24))
	}
	return store.Signer{ID: w.Account, Name: w.Name, How: "device", Promised: p.At}, nil
}
