package form

import (
	"bytes"
	"encoding/json"
	"errors"
)

// Object is a JSON object whose members keep their order.
type Object []Member

// Member is one name and value of an Object.
type Member struct {
	Name  string
	Value any
}

// Get is the value under a name, nil when there is none.
func (o Object) Get(name string) any {
	for _, m := range o {
		if m.Name == name {
			return m.Value
		}
	}
	return nil
}

// MarshalJSON writes the members in order.
func (o Object) MarshalJSON() ([]byte, error) {
	var b bytes.Buffer
	b.WriteByte('{')
	for i, m := range o {
		if i > 0 {
			b.WriteByte(',')
		}
		name, err := json.Marshal(m.Name)
		if err != nil {
			return nil, err
		}
		value, err := json.Marshal(m.Value)
		if err != nil {
			return nil, err
		}
		b.Write(name)
		b.WriteByte(':')
		b.Write(value)
	}
	b.WriteByte('}')
	return b.Bytes(), nil
}

// UnmarshalJSON reads a JSON object and keeps the order of its members; values
// stay as they were written.
func (o *Object) UnmarshalJSON(data []byte) error {
	d := json.NewDecoder(bytes.NewReader(data))
	if t, err := d.Token(); err != nil || t != json.Delim('{') {
		return errors.New("form: an Object is a JSON object")
	}
	*o = Object{}
	for d.More() {
		name, err := d.Token()
		if err != nil {
			return err
		}
		var value json.RawMessage
		if err := d.Decode(&value); err != nil {
			return err
		}
		*o = append(*o, Member{name.(string), value})
	}
	return nil
}
