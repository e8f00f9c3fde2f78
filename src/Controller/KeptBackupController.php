<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Customer\KeptBackups;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Http\Body\BackupsToFind;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Http\Time;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\Routing\Attribute\Route;

/** Backups that are kept behind a hand-over: what each is of, and nothing that anybody wrote. */
final readonly class KeptBackupController
{
    public function __construct(private KeptBackups $kept)
    {
    }

    /** What is looked for is a customer's name or number: it is sent in the body, and so in no log of addresses. */
    #[Route('/api/backups/find', methods: ['POST'])]
    public function find(#[MapRequestPayload('json')] BackupsToFind $asked): JsonResponse
    {
        $found = $this->kept->find($asked->words, $asked->behind ?? 0, KeptBackups::PAGE + 1);
        $page = array_slice($found, 0, KeptBackups::PAGE);
        $last = [] === $page ? null : end($page);

        return new JsonAnswer([
            'backups' => array_map(self::of(...), $page),
            'behind' => count($found) > KeptBackups::PAGE && null !== $last ? $last->counter : null,
        ]);
    }

    /** @return array<string, mixed> */
    private static function of(Backup $backup): array
    {
        $until = $backup->tray->keepUntil();

        return [
            'id' => $backup->id, 'tray' => $backup->tray->number, 'customer_id' => $backup->customer->id(),
            'customer' => $backup->customer->name(), 'contact' => $backup->customer->contact(),
            'language' => $backup->customer->language(), 'app' => $backup->app,
            'edition' => $backup->edition, 'account' => $backup->account, 'taken_at' => Time::iso($backup->takenAt),
            'newest_at' => Time::ofMilliseconds($backup->newestAt), 'conversations' => $backup->conversations,
            'messages' => $backup->messages, 'attachment_bytes' => $backup->attachmentBytes, 'lost' => $backup->lost,
            'kept_until' => null === $until ? null : Time::iso($until),
        ];
    }
}
