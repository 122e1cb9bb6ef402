"""Where the two syntaxes write each business term: a table after EN 16931-3, and no code.

A path goes from the element before it; names are written with the usual prefixes, ``[@a='b']`` asks for an attribute.
Several paths are tried in turn. Amounts of UBL name their currency, dates of CII how they are written.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Holds = Literal["text", "day", "amount", "number", "quantity", "rate"]
NAMESPACES = {
    "rsm": "urn:un:unece:uncefact:data:standard:CrossIndustryInvoice:100",
    "ram": "urn:un:unece:uncefact:data:standard:ReusableAggregateBusinessInformationEntity:100",
    "udt": "urn:un:unece:uncefact:data:standard:UnqualifiedDataType:100",
    "inv": "urn:oasis:names:specification:ubl:schema:xsd:Invoice-2",
    "cn": "urn:oasis:names:specification:ubl:schema:xsd:CreditNote-2",
    "cac": "urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2",
    "cbc": "urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2",
}
ROOTS = {
    f"{{{NAMESPACES['rsm']}}}CrossIndustryInvoice": "cii",
    f"{{{NAMESPACES['inv']}}}Invoice": "ubl",
    f"{{{NAMESPACES['cn']}}}CreditNote": "ubl",
}
"""Which syntax a document has, by its outermost element."""


@dataclass(frozen=True)
class Bound:
    """One term: its name in our model, and where it is written."""

    term: str
    cii: tuple[str, ...]
    ubl: tuple[str, ...]
    holds: Holds = "text"


def _b(term: str, cii: str, ubl: str, holds: Holds = "text") -> Bound:
    return Bound(term, tuple(filter(None, cii.split(" | "))), tuple(filter(None, ubl.split(" | "))), holds)


_TRADE = "rsm:SupplyChainTradeTransaction"
_AGREED = f"{_TRADE}/ram:ApplicableHeaderTradeAgreement"
_SETTLED = f"{_TRADE}/ram:ApplicableHeaderTradeSettlement"
_SUMS = f"{_SETTLED}/ram:SpecifiedTradeSettlementHeaderMonetarySummation"
_DAY = "udt:DateTimeString[@format='102']"
HEADER = (
    _b("number", "rsm:ExchangedDocument/ram:ID", "cbc:ID"),
    _b("type_code", "rsm:ExchangedDocument/ram:TypeCode", "cbc:InvoiceTypeCode | cbc:CreditNoteTypeCode"),
    _b("issue_date", f"rsm:ExchangedDocument/ram:IssueDateTime/{_DAY}", "cbc:IssueDate", "day"),
    _b("due_date", f"{_SETTLED}/ram:SpecifiedTradePaymentTerms/ram:DueDateDateTime/{_DAY}",
       "cbc:DueDate | cac:PaymentMeans/cbc:PaymentDueDate", "day"),
    _b("currency", f"{_SETTLED}/ram:InvoiceCurrencyCode", "cbc:DocumentCurrencyCode"),
    _b("buyer_reference", f"{_AGREED}/ram:BuyerReference", "cbc:BuyerReference"),
    _b("order_reference", f"{_AGREED}/ram:BuyerOrderReferencedDocument/ram:IssuerAssignedID",
       "cac:OrderReference/cbc:ID"),
    _b("note", "rsm:ExchangedDocument/ram:IncludedNote/ram:Content", "cbc:Note"),
    _b("payment_terms", f"{_SETTLED}/ram:SpecifiedTradePaymentTerms/ram:Description", "cac:PaymentTerms/cbc:Note"),
    _b("iban", f"{_SETTLED}/ram:SpecifiedTradeSettlementPaymentMeans/ram:PayeePartyCreditorFinancialAccount/ram:IBANID",
       "cac:PaymentMeans/cac:PayeeFinancialAccount/cbc:ID"),
    _b("bic", f"{_SETTLED}/ram:SpecifiedTradeSettlementPaymentMeans"
       "/ram:PayeeSpecifiedCreditorFinancialInstitution/ram:BICID",
       "cac:PaymentMeans/cac:PayeeFinancialAccount/cac:FinancialInstitutionBranch/cbc:ID"),
    _b("lines_total", f"{_SUMS}/ram:LineTotalAmount", "cac:LegalMonetaryTotal/cbc:LineExtensionAmount", "amount"),
    _b("allowances_total", f"{_SUMS}/ram:AllowanceTotalAmount", "cac:LegalMonetaryTotal/cbc:AllowanceTotalAmount",
       "amount"),
    _b("charges_total", f"{_SUMS}/ram:ChargeTotalAmount", "cac:LegalMonetaryTotal/cbc:ChargeTotalAmount", "amount"),
    _b("net_total", f"{_SUMS}/ram:TaxBasisTotalAmount", "cac:LegalMonetaryTotal/cbc:TaxExclusiveAmount", "amount"),
    _b("tax_total", f"{_SUMS}/ram:TaxTotalAmount", "cac:TaxTotal/cbc:TaxAmount", "amount"),
    _b("grand_total", f"{_SUMS}/ram:GrandTotalAmount", "cac:LegalMonetaryTotal/cbc:TaxInclusiveAmount", "amount"),
    _b("prepaid", f"{_SUMS}/ram:TotalPrepaidAmount", "cac:LegalMonetaryTotal/cbc:PrepaidAmount", "amount"),
    _b("rounding", f"{_SUMS}/ram:RoundingAmount", "cac:LegalMonetaryTotal/cbc:PayableRoundingAmount", "amount"),
    _b("payable", f"{_SUMS}/ram:DuePayableAmount", "cac:LegalMonetaryTotal/cbc:PayableAmount", "amount"),
)  # fmt: skip
PARTIES = {
    "seller": (f"{_AGREED}/ram:SellerTradeParty", "cac:AccountingSupplierParty/cac:Party"),
    "buyer": (f"{_AGREED}/ram:BuyerTradeParty", "cac:AccountingCustomerParty/cac:Party"),
}
"""By role where the party is written, in CII and in UBL."""
PARTY = (
    _b("name", "ram:Name", "cac:PartyLegalEntity/cbc:RegistrationName | cac:PartyName/cbc:Name"),
    _b("vat_id", "ram:SpecifiedTaxRegistration/ram:ID[@schemeID='VA']",
       "cac:PartyTaxScheme[cac:TaxScheme/cbc:ID='VAT']/cbc:CompanyID"),
    _b("tax_id", "ram:SpecifiedTaxRegistration/ram:ID[@schemeID='FC']",
       "cac:PartyTaxScheme[cac:TaxScheme/cbc:ID='TAX']/cbc:CompanyID"),
    _b("street", "ram:PostalTradeAddress/ram:LineOne", "cac:PostalAddress/cbc:StreetName"),
    _b("city", "ram:PostalTradeAddress/ram:CityName", "cac:PostalAddress/cbc:CityName"),
    _b("postcode", "ram:PostalTradeAddress/ram:PostcodeCode", "cac:PostalAddress/cbc:PostalZone"),
    _b("country", "ram:PostalTradeAddress/ram:CountryID", "cac:PostalAddress/cac:Country/cbc:IdentificationCode"),
)  # fmt: skip
LINES = (f"{_TRADE}/ram:IncludedSupplyChainTradeLineItem", "cac:InvoiceLine | cac:CreditNoteLine")
_LINE_TAX = "ram:SpecifiedLineTradeSettlement/ram:ApplicableTradeTax"
_LINE_SUMS = "ram:SpecifiedLineTradeSettlement/ram:SpecifiedTradeSettlementLineMonetarySummation"
_NET = "ram:SpecifiedLineTradeAgreement/ram:NetPriceProductTradePrice"
LINE = (
    _b("number", "ram:AssociatedDocumentLineDocument/ram:LineID", "cbc:ID"),
    _b("name", "ram:SpecifiedTradeProduct/ram:Name", "cac:Item/cbc:Name"),
    _b("description", "ram:SpecifiedTradeProduct/ram:Description", "cac:Item/cbc:Description"),
    _b("item", "ram:SpecifiedTradeProduct/ram:SellerAssignedID", "cac:Item/cac:SellersItemIdentification/cbc:ID"),
    _b("quantity", "ram:SpecifiedLineTradeDelivery/ram:BilledQuantity", "cbc:InvoicedQuantity | cbc:CreditedQuantity",
       "quantity"),
    _b("unit", "ram:SpecifiedLineTradeDelivery/ram:BilledQuantity/@unitCode",
       "cbc:InvoicedQuantity/@unitCode | cbc:CreditedQuantity/@unitCode"),
    _b("price", f"{_NET}/ram:ChargeAmount", "cac:Price/cbc:PriceAmount", "amount"),
    _b("price_of", f"{_NET}/ram:BasisQuantity", "cac:Price/cbc:BaseQuantity", "number"),
    _b("total", f"{_LINE_SUMS}/ram:LineTotalAmount",
       "cbc:LineExtensionAmount", "amount"),
    _b("category", f"{_LINE_TAX}/ram:CategoryCode", "cac:Item/cac:ClassifiedTaxCategory/cbc:ID"),
    _b("rate", f"{_LINE_TAX}/ram:RateApplicablePercent", "cac:Item/cac:ClassifiedTaxCategory/cbc:Percent", "rate"),
)  # fmt: skip
TAXES = (f"{_SETTLED}/ram:ApplicableTradeTax", "cac:TaxTotal/cac:TaxSubtotal")
TAX = (
    _b("basis", "ram:BasisAmount", "cbc:TaxableAmount", "amount"),
    _b("amount", "ram:CalculatedAmount", "cbc:TaxAmount", "amount"),
    _b("category", "ram:CategoryCode", "cac:TaxCategory/cbc:ID"),
    _b("rate", "ram:RateApplicablePercent", "cac:TaxCategory/cbc:Percent", "rate"),
)
ALLOWANCES = (f"{_SETTLED}/ram:SpecifiedTradeAllowanceCharge", "cac:AllowanceCharge")
ALLOWANCE = (
    _b("charge", "ram:ChargeIndicator/udt:Indicator", "cbc:ChargeIndicator"),
    _b("amount", "ram:ActualAmount", "cbc:Amount", "amount"),
    _b("reason", "ram:Reason", "cbc:AllowanceChargeReason"),
    _b("category", "ram:CategoryTradeTax/ram:CategoryCode", "cac:TaxCategory/cbc:ID"),
    _b("rate", "ram:CategoryTradeTax/ram:RateApplicablePercent", "cac:TaxCategory/cbc:Percent", "rate"),
)
