<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\LogEntry;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Http\Time;
use Geschenk\App\Words\Words;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;

/** Who saw and did what; for the manager. */
final readonly class LogController
{
    public function __construct(private EntityManagerInterface $entities, private Words $words)
    {
    }

    #[Route('/api/log', methods: ['GET'])]
    public function log(): JsonResponse
    {
        $entries = $this->entities->getRepository(LogEntry::class)->findBy([], ['id' => 'DESC'], 500);

        return new JsonAnswer(['entries' => array_map(fn (LogEntry $e): array => [
            'id' => $e->id(), 'at' => Time::iso($e->at), 'by' => $e->by, 'act' => $e->act, 'tray' => $e->trayNumber,
            'text' => $this->words->say(str_starts_with($e->act, 'step.') ? $e->act : 'log.'.$e->act, $e->params),
        ], $entries)]);
    }
}
