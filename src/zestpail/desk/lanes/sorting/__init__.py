"""How a lane tells what documents are: samples, cues and descriptions, shown as a table and measured."""
