package access

// OwesSecond reports whether somebody with the roles must set up a second factor
// before anything else.
func (r Roles) OwesSecond(asked, has bool) bool { return asked && r.Governs() && !has }
