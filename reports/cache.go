package reports

import "sync"

// cache keeps what takes long to work out until what it rests on has become another.
type cache[T any] struct {
	mu   sync.Mutex
	kept map[string]cached[T]
}

type cached[T any] struct {
	stamp string
	value T
}

// keptMost bounds how many values are kept; past it all are forgotten.
const keptMost = 400

// of is the value of a key as of a stamp, made where it is not kept. Nobody may change
// what it gives.
func (k *cache[T]) of(key, stamp string, make func() (T, error)) (T, error) {
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
		k.kept = map[string]cached[T]{}
	}
	k.kept[key] = cached[T]{stamp, value}
	return value, nil
}
