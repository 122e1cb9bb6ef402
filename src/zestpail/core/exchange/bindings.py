"""Where the two syntaxes write each business term: a table after EN 16931-3, and no code.

A path goes from the element before it; names are written with the usual prefixes, ``[@a='b']`` asks for an attribute.
Several paths are tried in turn. Amounts of UBL name their currency, dates of CII how they are written.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Syntax = Literal["cii", "ubl"]
Holds = Literal["text", "truth", "day", "amount", "number", "quantity", "rate"]
NAMESPACES = {
    "rsm": "urn:un:unece:uncefact:data:standard:CrossIndustryInvoice:100",
    "ram": "urn:un:unece:uncefact:data:standard:ReusableAggregateBusinessInformationEntity:100",
    "udt": "urn:un:unece:uncefact:data:standard:UnqualifiedDataType:100",
    "inv": "urn:oasis:names:specification:ubl:schema:xsd:Invoice-2",
    "cn": "urn:oasis:names:specification:ubl:schema:xsd:CreditNote-2",
    "cac": "urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2",
    "cbc": "urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2",
}
ROOTS: dict[str, Syntax] = {
    f"{{{NAMESPACES['rsm']}}}CrossIndustryInvoice": "cii",
    f"{{{NAMESPACES['inv']}}}Invoice": "ubl",
    f"{{{NAMESPACES['cn']}}}CreditNote": "ubl",
}
"""Which syntax a document has, by its outermost element."""


@dataclass(frozen=True)
class Bound:
    """One term: its name in our model, and where it is written."""

    term: str
    cii: str
    ubl: str
    holds: Holds = "text"
    credit: str = ""
    """Where a credit note of UBL writes it, if elsewhere."""
    also: str = ""
    """Where UBL may have it instead; it is read there, and not written."""

    def paths(self, syntax: Syntax) -> tuple[str, ...]:
        """Where it may be read, likeliest first."""
        return (self.cii,) if syntax == "cii" else tuple(filter(None, (self.ubl, self.credit, self.also)))

    def path(self, syntax: Syntax, *, credit_note: bool) -> str:
        """Where it is written."""
        if syntax == "cii":
            return self.cii
        return self.credit if credit_note and self.credit else self.ubl


_TRADE = "rsm:SupplyChainTradeTransaction"
_AGREED = f"{_TRADE}/ram:ApplicableHeaderTradeAgreement"
_SETTLED = f"{_TRADE}/ram:ApplicableHeaderTradeSettlement"
_SUMS = f"{_SETTLED}/ram:SpecifiedTradeSettlementHeaderMonetarySummation"
_MEANS = f"{_SETTLED}/ram:SpecifiedTradeSettlementPaymentMeans"
_DAY = "udt:DateTimeString[@format='102']"
HEADER = (
    Bound("number", "rsm:ExchangedDocument/ram:ID", "cbc:ID"),
    Bound("type_code", "rsm:ExchangedDocument/ram:TypeCode", "cbc:InvoiceTypeCode",
          credit="cbc:CreditNoteTypeCode"),
    Bound("issue_date", f"rsm:ExchangedDocument/ram:IssueDateTime/{_DAY}", "cbc:IssueDate", "day"),
    Bound("due_date", f"{_SETTLED}/ram:SpecifiedTradePaymentTerms/ram:DueDateDateTime/{_DAY}",
       "cbc:DueDate", "day", "cac:PaymentMeans/cbc:PaymentDueDate"),
    Bound("currency", f"{_SETTLED}/ram:InvoiceCurrencyCode", "cbc:DocumentCurrencyCode"),
    Bound("buyer_reference", f"{_AGREED}/ram:BuyerReference", "cbc:BuyerReference"),
    Bound("order_reference", f"{_AGREED}/ram:BuyerOrderReferencedDocument/ram:IssuerAssignedID",
       "cac:OrderReference/cbc:ID"),
    Bound("note", "rsm:ExchangedDocument/ram:IncludedNote/ram:Content", "cbc:Note"),
    Bound("payment_terms", f"{_SETTLED}/ram:SpecifiedTradePaymentTerms/ram:Description", "cac:PaymentTerms/cbc:Note"),
    Bound("iban", f"{_MEANS}/ram:PayeePartyCreditorFinancialAccount/ram:IBANID",
       "cac:PaymentMeans/cac:PayeeFinancialAccount/cbc:ID"),
    Bound("bic", f"{_MEANS}/ram:PayeeSpecifiedCreditorFinancialInstitution/ram:BICID",
       "cac:PaymentMeans/cac:PayeeFinancialAccount/cac:FinancialInstitutionBranch/cbc:ID"),
    Bound("lines_total", f"{_SUMS}/ram:LineTotalAmount", "cac:LegalMonetaryTotal/cbc:LineExtensionAmount", "amount"),
    Bound("allowances_total", f"{_SUMS}/ram:AllowanceTotalAmount", "cac:LegalMonetaryTotal/cbc:AllowanceTotalAmount",
       "amount"),
    Bound("charges_total", f"{_SUMS}/ram:ChargeTotalAmount", "cac:LegalMonetaryTotal/cbc:ChargeTotalAmount", "amount"),
    Bound("net_total", f"{_SUMS}/ram:TaxBasisTotalAmount", "cac:LegalMonetaryTotal/cbc:TaxExclusiveAmount", "amount"),
    Bound("tax_total", f"{_SUMS}/ram:TaxTotalAmount", "cac:TaxTotal/cbc:TaxAmount", "amount"),
    Bound("grand_total", f"{_SUMS}/ram:GrandTotalAmount", "cac:LegalMonetaryTotal/cbc:TaxInclusiveAmount", "amount"),
    Bound("prepaid", f"{_SUMS}/ram:TotalPrepaidAmount", "cac:LegalMonetaryTotal/cbc:PrepaidAmount", "amount"),
    Bound("rounding", f"{_SUMS}/ram:RoundingAmount", "cac:LegalMonetaryTotal/cbc:PayableRoundingAmount", "amount"),
    Bound("payable", f"{_SUMS}/ram:DuePayableAmount", "cac:LegalMonetaryTotal/cbc:PayableAmount", "amount"),
)  # fmt: skip
PARTIES = {
    "seller": Bound("seller", f"{_AGREED}/ram:SellerTradeParty", "cac:AccountingSupplierParty/cac:Party"),
    "buyer": Bound("buyer", f"{_AGREED}/ram:BuyerTradeParty", "cac:AccountingCustomerParty/cac:Party"),
}
"""By role where the party is written."""
PARTY = (
    Bound("name", "ram:Name", "cac:PartyLegalEntity/cbc:RegistrationName", also="cac:PartyName/cbc:Name"),
    Bound("vat_id", "ram:SpecifiedTaxRegistration[ram:ID/@schemeID='VA']/ram:ID",
       "cac:PartyTaxScheme[cac:TaxScheme/cbc:ID='VAT']/cbc:CompanyID"),
    Bound("tax_id", "ram:SpecifiedTaxRegistration[ram:ID/@schemeID='FC']/ram:ID",
       "cac:PartyTaxScheme[cac:TaxScheme/cbc:ID='TAX']/cbc:CompanyID"),
    Bound("street", "ram:PostalTradeAddress/ram:LineOne", "cac:PostalAddress/cbc:StreetName"),
    Bound("city", "ram:PostalTradeAddress/ram:CityName", "cac:PostalAddress/cbc:CityName"),
    Bound("postcode", "ram:PostalTradeAddress/ram:PostcodeCode", "cac:PostalAddress/cbc:PostalZone"),
    Bound("country", "ram:PostalTradeAddress/ram:CountryID", "cac:PostalAddress/cac:Country/cbc:IdentificationCode"),
)  # fmt: skip
LINES = Bound("lines", f"{_TRADE}/ram:IncludedSupplyChainTradeLineItem", "cac:InvoiceLine", credit="cac:CreditNoteLine")
_LINE_TAX = "ram:SpecifiedLineTradeSettlement/ram:ApplicableTradeTax"
_LINE_SUMS = "ram:SpecifiedLineTradeSettlement/ram:SpecifiedTradeSettlementLineMonetarySummation"
_NET = "ram:SpecifiedLineTradeAgreement/ram:NetPriceProductTradePrice"
LINE = (
    Bound("number", "ram:AssociatedDocumentLineDocument/ram:LineID", "cbc:ID"),
    Bound("name", "ram:SpecifiedTradeProduct/ram:Name", "cac:Item/cbc:Name"),
    Bound("description", "ram:SpecifiedTradeProduct/ram:Description", "cac:Item/cbc:Description"),
    Bound("item", "ram:SpecifiedTradeProduct/ram:SellerAssignedID", "cac:Item/cac:SellersItemIdentification/cbc:ID"),
    Bound("quantity", "ram:SpecifiedLineTradeDelivery/ram:BilledQuantity", "cbc:InvoicedQuantity", "quantity",
          "cbc:CreditedQuantity"),
    Bound("unit", "ram:SpecifiedLineTradeDelivery/ram:BilledQuantity/@unitCode",
       "cbc:InvoicedQuantity/@unitCode", "text", "cbc:CreditedQuantity/@unitCode"),
    Bound("price", f"{_NET}/ram:ChargeAmount", "cac:Price/cbc:PriceAmount", "amount"),
    Bound("price_of", f"{_NET}/ram:BasisQuantity", "cac:Price/cbc:BaseQuantity", "number"),
    Bound("total", f"{_LINE_SUMS}/ram:LineTotalAmount",
       "cbc:LineExtensionAmount", "amount"),
    Bound("category", f"{_LINE_TAX}/ram:CategoryCode", "cac:Item/cac:ClassifiedTaxCategory/cbc:ID"),
    Bound("rate", f"{_LINE_TAX}/ram:RateApplicablePercent", "cac:Item/cac:ClassifiedTaxCategory/cbc:Percent", "rate"),
)  # fmt: skip
TAXES = Bound("taxes", f"{_SETTLED}/ram:ApplicableTradeTax", "cac:TaxTotal/cac:TaxSubtotal")
TAX = (
    Bound("basis", "ram:BasisAmount", "cbc:TaxableAmount", "amount"),
    Bound("amount", "ram:CalculatedAmount", "cbc:TaxAmount", "amount"),
    Bound("category", "ram:CategoryCode", "cac:TaxCategory/cbc:ID"),
    Bound("rate", "ram:RateApplicablePercent", "cac:TaxCategory/cbc:Percent", "rate"),
)
ALLOWANCES = Bound("allowances", f"{_SETTLED}/ram:SpecifiedTradeAllowanceCharge", "cac:AllowanceCharge")
ALLOWANCE = (
    Bound("charge", "ram:ChargeIndicator/udt:Indicator", "cbc:ChargeIndicator", "truth"),
    Bound("amount", "ram:ActualAmount", "cbc:Amount", "amount"),
    Bound("reason", "ram:Reason", "cbc:AllowanceChargeReason"),
    Bound("category", "ram:CategoryTradeTax/ram:CategoryCode", "cac:TaxCategory/cbc:ID"),
    Bound("rate", "ram:CategoryTradeTax/ram:RateApplicablePercent", "cac:TaxCategory/cbc:Percent", "rate"),
)
