package app

// MoneyLoad is a load that brought a budget or forecast of a project, with the name that somebody gave it.
type MoneyLoad struct {
	Load
	Name string
}
