package act

// Job names a command; its name is its operation in the contract.
type Job string

// The commands.
const (
	IssueOrder       Job = "issueOrder"
	ChangeOrder      Job = "changeOrder"
	CancelOrder      Job = "cancelOrder"
	KeepDraft        Job = "keepDraft"
	DiscardDraft     Job = "discardDraft"
	CloseLines       Job = "closeLines"
	ReopenLines      Job = "reopenLines"
	SendOrder        Job = "sendOrder"
	AnswerOrder      Job = "answerOrder"
	AgreeAhead       Job = "agreePrepayment"
	RemoveAhead      Job = "removePrepayment"
	RequestAhead     Job = "requestPrepayment"
	UseAhead         Job = "usePrepayment" // or leave it where it is
	TakeBackAhead    Job = "takeBackPrepaymentUse"
	SetOrderTerms    Job = "setOrderTerms"
	SetInvoiceTerms  Job = "setInvoiceTerms"
	SetPayee         Job = "setInvoicePayee"
	ConfirmPayee     Job = "confirmInvoicePayee"
	TakeDue          Job = "takeStatedDue"   // or the computed one again
	SettleOtherwise  Job = "settleOtherwise" // money that moved outside a run
	TakeBackSettled  Job = "takeBackSettlement"
	AdviseRun        Job = "adviseRun"
	SelfBill         Job = "selfBill" // write invoices ourselves
	AgreeSelfBilling Job = "agreeSelfBilling"
	SetBankLine      Job = "setBankLine"
	FreeBankLine     Job = "freeBankLine"
	HandOver         Job = "handOverMail" // by Lagoon, or again by a person
	BookDelivery     Job = "bookDelivery"
	ReverseDelivery  Job = "reverseDelivery"
	BookReturn       Job = "bookReturn"
	AcceptWork       Job = "acceptWork" // of lines by value
	TakeBackWork     Job = "takeBackWork"
	CountArrival     Job = "countArrival"
	DiscardArrival   Job = "discardArrival"
	KeepPhoto        Job = "keepPhoto"
	EnterNotice      Job = "enterNotice"
	ReadNotice       Job = "readNotice"
	WithdrawNotice   Job = "withdrawNotice"
	ImportInvoices   Job = "importInvoices"
	TakeMail         Job = "takeMail"
	FileMail         Job = "fileMail"
	OpenMail         Job = "openMail"
	AnswerMail       Job = "answerMail"
	KeyInvoice       Job = "keyInvoice"
	CorrectInvoice   Job = "correctInvoice"
	TieInvoice       Job = "tieInvoice"
	ForgetCode       Job = "forgetCode"
	ForgetPaper      Job = "forgetPaper"
	AttachPaper      Job = "attachPaper"
	DetachPaper      Job = "detachPaper"
	KeepBatch        Job = "keepBatch"
	RunBatch         Job = "runBatch"
	StopBatch        Job = "stopBatch"
	DropBatch        Job = "dropBatch"
	SaveKnown        Job = "saveKnown"
	AcceptFinding    Job = "acceptFinding"
	AcceptFree       Job = "acceptFree"
	UndoFree         Job = "undoFree"
	RefuseInvoice    Job = "refuseInvoice"
	VoidInvoice      Job = "voidInvoice"
	TakeBackAccepted Job = "takeBackAcceptance"
	ApproveInvoice   Job = "approveInvoice"
	PassApproval     Job = "passApproval"
	ClaimInvoice     Job = "claimInvoice"
	GiveUpClaim      Job = "giveUpClaim"
	WithdrawClaim    Job = "withdrawClaim"
	MatchAgain       Job = "matchAgain"
	HoldInvoice      Job = "holdInvoice"
	LiftHold         Job = "liftHold"
	LiftHolds        Job = "liftHolds"
	HoldOrder        Job = "holdOrder"
	SaveHoldReason   Job = "saveHoldReason"
	SavePlace        Job = "savePlace"
	SaveDebitAccount Job = "saveDebitAccount"
	KeepSelfBilling  Job = "keepSelfBilling"
	SavePersonMail   Job = "savePersonMail"
	AskQuestion      Job = "askQuestion" // or leave a note
	AnswerQuestion   Job = "answerQuestion"
	PassQuestion     Job = "passQuestion"
	TakeBackQuestion Job = "takeBackQuestion"
	SeeQuestion      Job = "seeQuestion"
	AcceptFindings   Job = "acceptFindings"
	ReleaseInvoices  Job = "releaseInvoices"
	MakeRun          Job = "makeRun"
	ApproveRun       Job = "approveRun"
	DiscardRun       Job = "discardRun"
	SendRun          Job = "sendRun"
	TakeBackRun      Job = "takeBackRun"
	DeclareLost      Job = "declareRunLost"
	TakeBackRelease  Job = "takeBackRelease"
	TakeAnswer       Job = "takeBankAnswer"
	AddPerson        Job = "addPerson"
	ChangePerson     Job = "changePerson"
	ConfirmPerson    Job = "confirmPerson"
	ResetPassword    Job = "resetPassword"
	EndPerson        Job = "endPerson"
	ChangePassword   Job = "changePassword"
	SignOutAll       Job = "signOutEverywhere"
	NameSubstitute   Job = "nameSubstitute"
	EndSubstitute    Job = "endSubstitute"
	SaveSupplier     Job = "saveSupplier"
	HoldSupplier     Job = "holdSupplier"
	ConfirmAccount   Job = "confirmAccount"
	SetLimits        Job = "setLimits"
	ConfirmLimits    Job = "confirmLimits"
	SaveContact      Job = "saveContact"
	SaveNote         Job = "saveNote"
	SavePrice        Job = "savePrice"
	SaveStanding     Job = "saveStandingCharge"
	NameInvoicer     Job = "nameInvoicer"
	ConfirmInvoicer  Job = "confirmInvoicer"
	SaveItem         Job = "saveItem"
	SaveCompany      Job = "saveCompany"
	SaveBudget       Job = "saveBudget"
	SaveBudgetLine   Job = "saveBudgetLine"
	PlanBudget       Job = "planBudget"
	CarryBudgets     Job = "carryBudgets"
	SaveChase        Job = "saveChase"
	SaveWayIn        Job = "saveWayIn"
	TakeInvoice      Job = "takeInvoice"
	RequireNotice    Job = "requireNotice"
	HandInvoices     Job = "handInvoices"
	SaveGroup        Job = "saveGroup"
	SaveAccount      Job = "saveAccount"
	SaveChargeKind   Job = "saveChargeKind"
	SaveTaxCode      Job = "saveTaxCode"
	ApproveOrder     Job = "approveOrder"
	RefuseOrder      Job = "refuseOrder"
	PassOrder        Job = "passOrder"
	PostDeferrals    Job = "postDeferrals"
	UndoDeferrals    Job = "undoDeferrals"
	SetRate          Job = "setRate"
	ImportTable      Job = "importTable"
	ClosePeriod      Job = "closePeriod"
	AskPeriod        Job = "askPeriod"
	OpenPeriod       Job = "openPeriod"
	KeepPeriod       Job = "keepPeriod"
	SetUp            Job = "setUp"
	KeepList         Job = "keepList"
	KeepStatement    Job = "keepStatement"
	AskStatement     Job = "askStatement"
	SaveWeights      Job = "saveWeights"
	KeepTrial        Job = "keepTrial"
	AdoptLimit       Job = "adoptLimit"
	EndKeptList      Job = "endKeptList"
	MailList         Job = "mailList" // by a person, or every Monday by Lagoon
	Accrue           Job = "accrue"
	UndoAccrual      Job = "undoAccrual"
	ExportLedger     Job = "exportLedger"
	UndoExport       Job = "undoLedgerExport"
)

// Permissions says which roles may give which command (rules §12). Lagoon itself
// may do what it does by itself.
var Permissions = map[Job][]string{
	IssueOrder:       {"buyer"},
	ChangeOrder:      {"buyer"},
	CancelOrder:      {"buyer"},
	KeepDraft:        {"buyer"},
	DiscardDraft:     {"buyer"},
	CloseLines:       {"buyer"},
	ReopenLines:      {"buyer"},
	SendOrder:        {"buyer", "receiver"},
	AnswerOrder:      {"buyer"},
	AgreeAhead:       {"buyer"},
	RemoveAhead:      {"buyer"},
	RequestAhead:     {"buyer", "clerk"},
	UseAhead:         {"clerk", "approver", "treasurer"},
	TakeBackAhead:    {"clerk", "approver", "treasurer"},
	SetOrderTerms:    {"buyer"},
	SetInvoiceTerms:  {"clerk", "approver", "treasurer"},
	SetPayee:         {"clerk", "approver", "treasurer"},
	ConfirmPayee:     {"approver", "treasurer"},
	TakeDue:          {"clerk", "approver", "treasurer"},
	SettleOtherwise:  {"treasurer"},
	TakeBackSettled:  {"treasurer"},
	AdviseRun:        {"clerk", "treasurer"},
	SelfBill:         {"clerk"},
	AgreeSelfBilling: {"buyer", "administrator"},
	SetBankLine:      {"treasurer"},
	FreeBankLine:     {"treasurer"},
	HandOver:         {"buyer"},
	BookDelivery:     {"receiver"},
	ReverseDelivery:  {"receiver"},
	BookReturn:       {"receiver"},
	AcceptWork:       Workers, // who asked for it, whatever they do here
	TakeBackWork:     Workers,
	CountArrival:     {"receiver"},
	DiscardArrival:   {"receiver"},
	KeepPhoto:        {"receiver"},
	EnterNotice:      {"receiver", "buyer"},
	ReadNotice:       {"receiver", "buyer"},
	WithdrawNotice:   {"receiver", "buyer"},
	ImportInvoices:   {"clerk"},
	TakeMail:         {"clerk"},
	FileMail:         {"clerk", "approver", "buyer"},
	OpenMail:         {"clerk", "approver", "buyer"},
	AnswerMail:       {"clerk", "approver", "buyer"},
	KeyInvoice:       {"clerk"},
	CorrectInvoice:   {"clerk", "approver"},
	TieInvoice:       {"clerk", "approver"},
	ForgetCode:       {"clerk", "buyer", "administrator"},
	ForgetPaper:      {"clerk", "administrator"},
	AttachPaper:      Workers,
	DetachPaper:      Workers,   // who put it there, and administrators
	KeepBatch:        {"clerk"}, // who began it
	RunBatch:         {"clerk"},
	StopBatch:        {"clerk"},
	DropBatch:        {"clerk"},
	SaveKnown:        {"buyer", "clerk", "administrator"},
	AcceptFinding:    {"approver", "treasurer"},
	AcceptFree:       {"approver"},
	UndoFree:         {"approver"},
	RefuseInvoice:    {"clerk", "approver"},
	VoidInvoice:      {"clerk", "approver"},
	TakeBackAccepted: {"approver", "treasurer"},
	ApproveInvoice:   {"approver"},
	PassApproval:     {"clerk", "approver"},
	ClaimInvoice:     {"clerk", "approver"},
	GiveUpClaim:      {"approver"},
	WithdrawClaim:    {"clerk", "approver"},
	MatchAgain:       {"clerk", "approver", "receiver"},
	HoldInvoice:      {"clerk", "approver", "treasurer"},
	AskQuestion:      Workers,
	AnswerQuestion:   Workers, // who is asked
	PassQuestion:     Workers,
	TakeBackQuestion: Workers, // who asked
	SeeQuestion:      Workers,
	LiftHold:         {"buyer", "receiver", "clerk", "approver", "treasurer"},
	LiftHolds:        {"buyer", "receiver", "clerk", "approver", "treasurer"},
	HoldOrder:        {"buyer", "receiver", "clerk", "approver", "treasurer"},
	SaveHoldReason:   {"administrator"},
	SavePlace:        {"administrator"},
	SaveDebitAccount: {"administrator"},
	KeepSelfBilling:  {"clerk"},
	SavePersonMail:   {"administrator"},
	AcceptFindings:   {"approver", "treasurer"},
	ReleaseInvoices:  {"clerk", "approver", "treasurer"},
	MakeRun:          {"clerk", "treasurer"},
	ApproveRun:       {"approver", "treasurer"},
	DiscardRun:       {"clerk", "approver", "treasurer"},
	SendRun:          {"treasurer"},
	TakeBackRun:      {"approver", "treasurer"},
	DeclareLost:      {"approver", "treasurer"},
	TakeBackRelease:  {"clerk", "approver", "treasurer"},
	TakeAnswer:       {"treasurer"},
	AddPerson:        {"administrator"},
	ChangePerson:     {"administrator"},
	ConfirmPerson:    {"administrator"},
	ResetPassword:    {"administrator"},
	EndPerson:        {"administrator"},
	ChangePassword:   AllRoles,
	SignOutAll:       AllRoles,
	NameSubstitute:   AllRoles,
	EndSubstitute:    AllRoles,
	SaveSupplier:     {"buyer", "clerk", "administrator"},
	HoldSupplier:     {"buyer", "treasurer", "administrator"},
	ConfirmAccount:   {"approver", "treasurer", "administrator"},
	SetLimits:        {"buyer", "administrator"},
	KeepStatement:    {"clerk", "treasurer"},
	AskStatement:     {"clerk", "treasurer"},
	SaveWeights:      {"administrator"},
	KeepTrial:        {"buyer", "approver", "administrator"},
	AdoptLimit:       {"buyer", "administrator"},
	ConfirmLimits:    {"approver", "buyer", "administrator"},
	SaveContact:      {"buyer", "clerk", "administrator"},
	SaveNote:         {"buyer", "receiver", "clerk", "treasurer", "administrator"},
	SavePrice:        {"buyer", "administrator"},
	SaveStanding:     {"buyer", "administrator"},
	NameInvoicer:     {"buyer", "clerk", "administrator"},
	ConfirmInvoicer:  {"approver", "treasurer", "administrator"},
	SaveItem:         {"buyer", "administrator"},
	SaveCompany:      {"administrator"},
	SaveBudget:       {"administrator"},
	SaveBudgetLine:   {"buyer", "administrator"},
	PlanBudget:       {"administrator"},
	CarryBudgets:     {"administrator"},
	SaveChase:        {"buyer", "administrator"},
	SaveWayIn:        {"administrator"},
	RequireNotice:    {"buyer"},
	TakeInvoice:      {"receiver", "clerk", "approver", "treasurer"},
	HandInvoices:     {"receiver", "clerk", "approver", "treasurer", "administrator"},
	SaveGroup:        {"administrator"},
	SaveAccount:      {"administrator"},
	SaveChargeKind:   {"administrator"},
	SaveTaxCode:      {"administrator"},
	ApproveOrder:     {"approver"},
	RefuseOrder:      {"approver"},
	PassOrder:        {"approver"},
	PostDeferrals:    {"treasurer", "administrator"},
	UndoDeferrals:    {"treasurer", "administrator"},
	SetRate:          {"treasurer", "administrator"},
	ImportTable:      {"administrator"},
	ClosePeriod:      {"administrator"},
	AskPeriod:        {"administrator", "treasurer"},
	OpenPeriod:       {"administrator", "treasurer"},
	KeepPeriod:       {"administrator", "treasurer"},
	SetUp:            {"administrator"},
	KeepList:         AllRoles,
	EndKeptList:      AllRoles,
	MailList:         {"buyer", "clerk", "approver", "treasurer", "administrator"},
	Accrue:           {"treasurer", "administrator"},
	UndoAccrual:      {"treasurer", "administrator"},
	ExportLedger:     {"treasurer", "administrator"},
	UndoExport:       {"treasurer", "administrator"},
}

// own are the commands about oneself, which nobody gives in another's place, and those
// that decide who may do what.
var own = map[Job]bool{
	ChangePassword: true, SignOutAll: true, NameSubstitute: true, EndSubstitute: true,
	AddPerson: true, ChangePerson: true, ConfirmPerson: true, ResetPassword: true, EndPerson: true, SavePersonMail: true,
}
