<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Dompdf\Dompdf;
use Dompdf\Options;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Twig\Environment;

/** The hand-over sheet as a PDF: the same page, laid out for A4. Nothing is fetched, and nothing in it is run. */
final readonly class SheetPdf
{
    /** Points, as templates/sheet-pdf.css has its margins. */
    private const FOOT = 30;
    private const SIDE = 42.5;
    private const SIZE = 6.5;
    private const SOFT = [0.27, 0.33, 0.3];

    public function __construct(
        private Environment $twig,
        #[Autowire('%kernel.project_dir%')] private string $project,
        #[Autowire('%kernel.cache_dir%')] private string $cache,
    ) {
    }

    /** @param array<string, mixed> $sheet of SheetView */
    public function of(array $sheet): string
    {
        $fonts = $this->cache.'/pdf';
        if (!is_dir($fonts)) {
            @mkdir($fonts, 0o700, true);
        }
        $options = new Options([
            'isRemoteEnabled' => false, 'isPhpEnabled' => false, 'isJavascriptEnabled' => false,
            'defaultFont' => 'DejaVu Sans', 'fontCache' => $fonts, 'tempDir' => $fonts, 'chroot' => $fonts,
        ]);
        $pdf = new Dompdf($options);
        $pdf->setPaper('A4');
        $style = (string) file_get_contents($this->project.'/templates/sheet-pdf.css');
        $pdf->loadHtml($this->twig->render('sheet.html.twig', ['style' => $style] + $sheet), 'UTF-8');
        $pdf->render();
        $this->foot($pdf, $sheet);

        return (string) $pdf->output();
    }

    /**
     * On each page whose it is: a page that lies alone on the counter is still known.
     *
     * @param array<string, mixed> $sheet
     */
    private function foot(Dompdf $pdf, array $sheet): void
    {
        [$canvas, $metrics] = [$pdf->getCanvas(), $pdf->getFontMetrics()];
        $font = $metrics->getFont('DejaVu Sans') ?? '';
        $y = $canvas->get_height() - self::FOOT;
        $said = is_string($sheet['foot'] ?? null) ? $sheet['foot'] : '';
        $page = is_string($sheet['page'] ?? null) ? $sheet['page'] : '';
        // What the layout puts in for a page's number is nobody's name.
        $canvas->page_text(self::SIDE, $y, str_replace(['{', '}'], ['(', ')'], $said), $font, self::SIZE, self::SOFT);
        $right = $canvas->get_width() - self::SIDE - $metrics->getTextWidth($page, $font, self::SIZE) * 0.6;
        $canvas->page_text($right, $y, $page, $font, self::SIZE, self::SOFT);
    }
}
