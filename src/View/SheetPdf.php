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

        return (string) $pdf->output();
    }
}
