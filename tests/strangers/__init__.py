"""Invoices of suppliers that the demo does not know, made on demand from seeds: layouts, languages and number styles.

Half of the templates are set aside: nobody writes rules by looking at them, and their figures are reported apart.
"""
