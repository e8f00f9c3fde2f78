<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Entity\User;
use Geschenk\App\Http\Guard;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\View\SheetPdf;
use Geschenk\App\View\SheetView;
use Geschenk\App\Words\Words;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Twig\Environment;

/** The two HTML pages: the hand-over sheet, and the shell that the interface runs in. */
final readonly class PageController
{
    /** As web/router.ts has them. */
    private const PAGES = '#^/(trays/(new|\d{1,9}(/\w+)?(/accounts/\d{1,3}(/\w+|/conversations/\d{1,12})?)?)?'
        .'|cupboard(/import|/[0-9a-f-]{36}(/(copies|against|look|conversations/\d{1,12}))?)?|second-place|figures'
        .'|customers/\d{1,9}'
        .'|stand-in|log|users|wall|bench)?$#D';

    public function __construct(
        private Environment $twig,
        private Trays $trays,
        private SheetView $sheets,
        private SheetPdf $pdf,
        private Words $words,
        private ShopLog $log,
        #[Autowire('%kernel.project_dir%')] private string $project,
    ) {
    }

    #[Route('/trays/{number<\d{1,9}>}/sheet', methods: ['GET'])]
    public function sheet(int $number, Request $request, #[CurrentUser] User $user): Response
    {
        $tray = $this->trays->get($number);
        $sheet = $this->sheets->of($tray);
        if (null === $sheet) {
            throw new NotFoundHttpException($this->words->failure('nothing_checked'));
        }

        $this->log->note($user->getUserIdentifier(), 'sheet_opened', $number);

        $nonce = $request->attributes->get(Guard::NONCE);

        return new Response($this->twig->render('sheet.html.twig', ['nonce' => $nonce] + $sheet));
    }

    #[Route('/trays/{number<\d{1,9}>}/sheet.pdf', methods: ['GET'])]
    public function pdf(int $number, #[CurrentUser] User $user): Response
    {
        $sheet = $this->sheets->of($this->trays->get($number));
        if (null === $sheet) {
            throw new NotFoundHttpException($this->words->failure('nothing_checked'));
        }
        $this->log->note($user->getUserIdentifier(), 'sheet_opened', $number);

        return new Response($this->pdf->of($sheet), 200, [
            'Content-Type' => 'application/pdf',
            'Content-Disposition' => sprintf('attachment; filename="tray-%d.pdf"', $number),
        ]);
    }

    #[Route('/{path<(?!api/).*>}', methods: ['GET'], priority: -100)]
    public function shell(Request $request): Response
    {
        $manifest = $this->project.'/public/build/.vite/manifest.json';
        /** @var array<string, array{file: string}> $entries made by the build */
        $entries = is_file($manifest)
            ? json_decode((string) file_get_contents($manifest), true, 8, \JSON_THROW_ON_ERROR)
            : [];
        $script = $entries['web/main.ts']['file'] ?? null;
        $style = $entries['style.css']['file'] ?? null;

        return new Response(
            $this->twig->render(
                'shell.html.twig',
                ['script' => $script, 'style' => $style, 'nonce' => $request->attributes->get(Guard::NONCE)],
            ),
            null === $script ? 503 : (self::isPage($request->getPathInfo()) ? 200 : 404),
        );
    }

    /** Whether the interface has a page there; it says itself that there is none. */
    private static function isPage(string $path): bool
    {
        return 1 === preg_match(self::PAGES, rawurldecode($path));
    }
}
