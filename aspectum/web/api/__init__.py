"""The API, one blueprint a feature; OpenAPI is generated from the routes' types."""

from aspectum.web.api import checking, drawings, easel, exports, measuring, pictures, plans, sheets, stand_files, stands

BLUEPRINTS = tuple(feature.blueprint for feature in (sheets, checking, drawings, measuring, pictures, exports, easel, plans, stands, stand_files))
