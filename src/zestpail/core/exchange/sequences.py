"""In which order each element has its parts: a table after the schemas of UBL 2.1 and of UN/CEFACT's D16B.

Elements of which at most one part is ever written are not named.
"""

from __future__ import annotations

ORDER: dict[str, tuple[str, ...]] = {
    name: tuple(parts.split())
    for name, parts in {
        "rsm:CrossIndustryInvoice": "ExchangedDocumentContext ExchangedDocument SupplyChainTradeTransaction",
        "rsm:ExchangedDocument": "ID TypeCode IssueDateTime IncludedNote",
        "rsm:SupplyChainTradeTransaction": "IncludedSupplyChainTradeLineItem ApplicableHeaderTradeAgreement "
        "ApplicableHeaderTradeDelivery ApplicableHeaderTradeSettlement",
        "ram:IncludedSupplyChainTradeLineItem": "AssociatedDocumentLineDocument SpecifiedTradeProduct "
        "SpecifiedLineTradeAgreement SpecifiedLineTradeDelivery SpecifiedLineTradeSettlement",
        "ram:SpecifiedTradeProduct": "SellerAssignedID Name Description",
        "ram:NetPriceProductTradePrice": "ChargeAmount BasisQuantity",
        "ram:SpecifiedLineTradeSettlement": "ApplicableTradeTax SpecifiedTradeSettlementLineMonetarySummation",
        "ram:ApplicableTradeTax": "CalculatedAmount TypeCode BasisAmount CategoryCode RateApplicablePercent",
        "ram:ApplicableHeaderTradeAgreement": "BuyerReference SellerTradeParty BuyerTradeParty "
        "BuyerOrderReferencedDocument",
        "ram:SellerTradeParty": "Name PostalTradeAddress SpecifiedTaxRegistration",
        "ram:BuyerTradeParty": "Name PostalTradeAddress SpecifiedTaxRegistration",
        "ram:PostalTradeAddress": "PostcodeCode LineOne CityName CountryID",
        "ram:ApplicableHeaderTradeSettlement": "InvoiceCurrencyCode SpecifiedTradeSettlementPaymentMeans "
        "ApplicableTradeTax SpecifiedTradeAllowanceCharge SpecifiedTradePaymentTerms "
        "SpecifiedTradeSettlementHeaderMonetarySummation",
        "ram:SpecifiedTradeSettlementPaymentMeans": "TypeCode PayeePartyCreditorFinancialAccount "
        "PayeeSpecifiedCreditorFinancialInstitution",
        "ram:SpecifiedTradeAllowanceCharge": "ChargeIndicator ActualAmount Reason CategoryTradeTax",
        "ram:CategoryTradeTax": "TypeCode CategoryCode RateApplicablePercent",
        "ram:SpecifiedTradePaymentTerms": "Description DueDateDateTime",
        "ram:SpecifiedTradeSettlementHeaderMonetarySummation": "LineTotalAmount ChargeTotalAmount "
        "AllowanceTotalAmount TaxBasisTotalAmount TaxTotalAmount RoundingAmount GrandTotalAmount TotalPrepaidAmount "
        "DuePayableAmount",
        "inv:Invoice": "CustomizationID ID IssueDate DueDate InvoiceTypeCode Note DocumentCurrencyCode BuyerReference "
        "OrderReference AccountingSupplierParty AccountingCustomerParty PaymentMeans PaymentTerms AllowanceCharge "
        "TaxTotal LegalMonetaryTotal InvoiceLine",
        "cn:CreditNote": "CustomizationID ID IssueDate CreditNoteTypeCode Note DocumentCurrencyCode BuyerReference "
        "OrderReference AccountingSupplierParty AccountingCustomerParty PaymentMeans PaymentTerms AllowanceCharge "
        "TaxTotal LegalMonetaryTotal CreditNoteLine",
        "cac:Party": "PostalAddress PartyTaxScheme PartyLegalEntity",
        "cac:PostalAddress": "StreetName CityName PostalZone Country",
        "cac:PartyTaxScheme": "CompanyID TaxScheme",
        "cac:PaymentMeans": "PaymentMeansCode PaymentDueDate PayeeFinancialAccount",
        "cac:PayeeFinancialAccount": "ID FinancialInstitutionBranch",
        "cac:AllowanceCharge": "ChargeIndicator AllowanceChargeReason Amount TaxCategory",
        "cac:TaxTotal": "TaxAmount TaxSubtotal",
        "cac:TaxSubtotal": "TaxableAmount TaxAmount TaxCategory",
        "cac:TaxCategory": "ID Percent TaxScheme",
        "cac:ClassifiedTaxCategory": "ID Percent TaxScheme",
        "cac:LegalMonetaryTotal": "LineExtensionAmount TaxExclusiveAmount TaxInclusiveAmount AllowanceTotalAmount "
        "ChargeTotalAmount PrepaidAmount PayableRoundingAmount PayableAmount",
        "cac:InvoiceLine": "ID InvoicedQuantity LineExtensionAmount Item Price",
        "cac:CreditNoteLine": "ID CreditedQuantity LineExtensionAmount Item Price",
        "cac:Item": "Description Name SellersItemIdentification ClassifiedTaxCategory",
        "cac:Price": "PriceAmount BaseQuantity",
    }.items()
}
STANDARD = "urn:cen.eu:en16931:2017"
SETS: dict[str, tuple[tuple[str, str], ...]] = {
    "rsm:CrossIndustryInvoice": (
        ("rsm:ExchangedDocumentContext/ram:GuidelineSpecifiedDocumentContextParameter/ram:ID", STANDARD),
        ("rsm:SupplyChainTradeTransaction/ram:ApplicableHeaderTradeDelivery", ""),
    ),
    "ram:ApplicableTradeTax": (("ram:TypeCode", "VAT"),),
    "ram:CategoryTradeTax": (("ram:TypeCode", "VAT"),),
    "ram:SpecifiedTradeSettlementPaymentMeans": (("ram:TypeCode", "58"),),
    "inv:Invoice": (("cbc:CustomizationID", STANDARD),),
    "cn:CreditNote": (("cbc:CustomizationID", STANDARD),),
    "cac:TaxCategory": (("cac:TaxScheme/cbc:ID", "VAT"),),
    "cac:ClassifiedTaxCategory": (("cac:TaxScheme/cbc:ID", "VAT"),),
    "cac:PaymentMeans": (("cbc:PaymentMeansCode", "58"),),
}
"""What an element always says, where it is written at all: 58 is a credit transfer (UNTDID 4461)."""
