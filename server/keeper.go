package server

import "sync"

// keeper keeps what takes long to work out until what it rests on has become another.
type keeper[T any] struct {
	mu   sync.Mutex
	kept map[string]keptValue[T]
}

type keptValue[T any] struct {
	stamp string
	value T
}

// keptMost bounds how many values are kept; past it all are forgotten.
const keptMost = 400

// of is the value of a key as of a stamp, made where it is not kept. Nobody may change
// what it gives.
func (k *keeper[T]) of(key, stamp string, make func() (T, error)) (T, error) {
	k.mu.Lock()
	known, ok := k.kept[key]
	k.mu.Unlock()
	if ok && known.stamp == stamp {
		return known.value, nil
	}
	value, err := make()
	if err != nil {
		return value, err
	}
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.kept == nil || len(k.kept) >= keptMost {
		k.kept = map[string]keptValue[T]{}
	}
	k.kept[key] = keptValue[T]{stamp, value}
	return value, nil
}
