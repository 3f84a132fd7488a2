package demo

// Password signs every invented person of the demo school in.
const Password = "look-out-first"

// School is the demo school.
const (
	SchoolID   = "5c001000-0000-4000-8000-000000000001"
	SchoolName = "Tarn Hollow Flying School"
	// TimeZone is where its day is told, unless it is loaded for another.
	TimeZone = "Europe/London"
)

// Person is an invented member of the demo school.
type Person struct {
	ID, Name, Email, Role string
}

func member(n byte, name, email, role string) Person {
	const hex = "0123456789abcdef"
	return Person{
		"5c001000-0000-4000-8000-0000000001" + string(hex[n/16]) + string(hex[n%16]), name,
		email + "@tarnhollow.example", role,
	}
}

// The people of the demo school.
var (
	Okonjo     = member(1, "Tunde Okonjo", "tunde", "instructor")
	Solheim    = member(2, "Marit Solheim", "marit", "instructor")
	Quist      = member(3, "Rafael Quist", "rafael", "instructor")
	Ferreira   = member(4, "Ilse Ferreira", "ilse", "chief")
	Achterberg = member(5, "Bo Achterberg", "bo", "maintenance")
	Petrescu   = member(6, "Hana Petrescu", "hana", "examiner")
	Whitlock   = member(7, "Sol Whitlock", "sol", "admin")
	Brandt     = member(16, "Odile Brandt", "odile", "student")
	Sandoval   = member(17, "Ravi Sandoval", "ravi", "student")
	Aune       = member(18, "Mireille Aune", "mireille", "student")
	Lindqvist  = member(19, "Kofi Lindqvist", "kofi", "student")
	Halloran   = member(20, "Jun Halloran", "jun", "student")
	Castell    = member(21, "Amira Castell", "amira", "student")
	Owusu      = member(22, "Piet Owusu", "piet", "student")
	Moreau     = member(23, "Lena Moreau", "lena", "student")
	Faye       = member(24, "Ingrid Faye", "ingrid", "student")
	Marlowe    = member(25, "Yusuf Marlowe", "yusuf", "student")
	Rask       = member(26, "Bea Rask", "bea", "student")
	Danforth   = member(27, "Olu Danforth", "olu", "student")
	Voss       = member(28, "Sanna Voss", "sanna", "student")
	Bello      = member(29, "Ike Bello", "ike", "student")
)

// People lists everybody.
func People() []Person {
	return []Person{Okonjo, Solheim, Quist, Ferreira, Achterberg, Petrescu, Whitlock,
		Brandt, Sandoval, Aune, Lindqvist, Halloran, Castell, Owusu, Moreau,
		Faye, Marlowe, Rask, Danforth, Voss, Bello}
}

// learner is how a student learns: on which aircraft, where they begin, how
// much a lesson brings, and the days before today on which they flew.
type learner struct {
	Person
	typ        string
	instructor Person
	start      float64
	gain       float64
	days       []int // before today, oldest first
	stageCheck bool  // the last lesson is a stage check with another instructor
}

func learners() []learner {
	return []learner{
		{Brandt, "alder-110", Okonjo, 0.6, 0.75, []int{84, 77, 66, 55, 42, 30, 21, 13, 5}, true},
		{Sandoval, "alder-110", Solheim, 0.3, 0.60, []int{80, 71, 62, 51, 40, 26, 16, 6}, false},
		{Aune, "alder-110", Quist, 0.9, 0.45, []int{110, 101, 93, 85, 76, 68}, false},
		{Lindqvist, "alder-110", Okonjo, -0.3, 0.12, []int{72, 61, 47, 33, 19, 9}, false},
		{Halloran, "alder-110", Solheim, -0.2, 0.45, []int{44, 36, 24, 12, 3}, false},
		{Castell, "alder-110", Quist, 0.1, 0.50, []int{27, 17, 7}, false},
		{Owusu, "alder-110", Okonjo, -0.3, 0.40, []int{18, 4}, false},
		{Moreau, "alder-110", Solheim, -0.5, 0.40, []int{2}, false},
		{Faye, "rowan-180i", Quist, 0.8, 0.50, []int{31, 20, 11}, false},
		{Marlowe, "sorrel-100", Solheim, 0.2, 0.50, []int{15, 8}, false},
		{Rask, "hornbeam-twin", Okonjo, 1.2, 0.50, []int{38, 25, 10}, false},
		{Danforth, "larch-d2", Quist, 1.0, 0.40, []int{14}, false},
		{Voss, "juniper-h2", Solheim, 0.4, 0.50, []int{29, 22, 1}, false},
		{Bello, "willow-t5", Quist, 0.9, 0.50, []int{23, 6}, false},
	}
}
