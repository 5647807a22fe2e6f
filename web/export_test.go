package web

// Patient is what gives up on bodies that do not come.
var Patient = patient
