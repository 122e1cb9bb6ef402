"""What stands on a page besides words: barcodes, ruled lines, boxes, ink, blank strips."""
