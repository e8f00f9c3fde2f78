<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Http\Guard;
use Geschenk\App\Tray\TrayFiles;
use Geschenk\Core\Arrival\Result;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Store\ChatStore;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Twig\Environment;

/** The two HTML pages: the hand-over sheet, and the shell that the interface runs in. */
final readonly class PageController
{
    public function __construct(private Environment $twig, private Trays $trays, private TrayFiles $files, private PhoneDirectory $phones, #[Autowire('%kernel.project_dir%')] private string $project)
    {
    }

    #[Route('/trays/{number<\d+>}/sheet', methods: ['GET'])]
    public function sheet(int $number): Response
    {
        $tray = $this->trays->get($number);
        if (!is_file($this->files->arrival($tray))) {
            throw new NotFoundHttpException('Nothing was checked yet, so there is nothing to hand over in writing.');
        }
        $result = new Result($this->files->arrival($tray));
        $phones = [];
        foreach ($tray->phones() as $phone) {
            try {
                $state = $this->phones->link($phone->serial)->state();
                $phones[] = ['tag' => $phone->tag, 'role' => $phone->role()->value, 'name' => $state->maker.' '.$state->model, 'system' => ('ios' === $state->platform ? 'iOS ' : 'Android ').$state->osVersion];
            } catch (PhoneUnplugged) {
                $phones[] = ['tag' => $phone->tag, 'role' => $phone->role()->value, 'name' => $phone->serial, 'system' => ''];
            }
        }

        return new Response($this->twig->render('sheet.html.twig', [
            'tray' => $tray, 'phones' => $phones, 'backup' => $this->files->backup($tray), 'totals' => $result->totals(), 'conversations' => $result->conversations(),
            'reasons' => $result->reasons(), 'losses' => $this->files->losses($tray), 'damaged' => array_filter((new ChatStore($this->files->expected($tray)))->overview(), static fn (array $c): bool => $c['lost'] > 0),
        ]));
    }

    #[Route('/{path<(?!api/).*>}', methods: ['GET'], priority: -100)]
    public function shell(Request $request): Response
    {
        $manifest = $this->project.'/public/build/.vite/manifest.json';
        /** @var array<string, array{file: string}> $entries made by the build */
        $entries = is_file($manifest) ? json_decode((string) file_get_contents($manifest), true, 8, \JSON_THROW_ON_ERROR) : [];
        $script = $entries['web/main.ts']['file'] ?? null;
        $style = $entries['style.css']['file'] ?? null;

        return new Response($this->twig->render('shell.html.twig', ['script' => $script, 'style' => $style, 'nonce' => $request->attributes->get(Guard::NONCE)]), null === $script ? 503 : 200);
    }
}
