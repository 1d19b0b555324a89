/** A PDF to be written. The library takes as long to load as all others together, so it is loaded when first needed. */
export async function newPdf(options: PDFKit.PDFDocumentOptions): Promise<PDFKit.PDFDocument> {
  const { default: PDFDocument } = await import('pdfkit');
  return new PDFDocument({ ...options, info: { ...options.info, Creator: 'Gable' } });
}
