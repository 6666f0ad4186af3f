"""Figures drawn without a browser: SVG and PNG."""
