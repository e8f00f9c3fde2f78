<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Customer\KeptBackups;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\User;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Http\Body\WordsToFind;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Refusal;
use Geschenk\App\Uncover\Noted;
use Geschenk\App\Uncover\Uncoverings;
use Geschenk\App\Uncover\What;
use Geschenk\App\View\MessageView;
use Geschenk\Core\Store\AcrossChats;
use Geschenk\Core\Store\ByKind;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoredMessage;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** Looking through all conversations of a backup at once: by kind, and for words where they were uncovered. */
#[Route('/api/backups/{backup<[0-9a-f-]{36}>}/across')]
final readonly class AcrossController
{
    private const PAGE = 60;
    private const FEWEST = 2;

    public function __construct(
        private Trays $trays,
        private MoveFiles $files,
        private Uncoverings $uncoverings,
        private KeptBackups $kept,
    ) {
    }

    #[Route('/kinds/{kind<photos|videos|voice|documents|links|places>}', methods: ['GET'])]
    public function look(
        string $backup,
        string $kind,
        Request $request,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $of = $this->trays->backup($backup);
        $isUncovered = $request->query->getBoolean('uncovered')
            && $this->uncoverings->holds($request->getSession(), $user, What::all($of, $this->kept->isAtRest($of)));
        $chats = $this->files->chats($of);
        $across = new AcrossChats($chats);
        $behind = $request->query->getInt('behind') ?: null;
        $page = $across->page(ByKind::from($kind), $behind, self::PAGE + 1);
        $shown = array_slice($page, 0, self::PAGE);
        $view = new MessageView($chats, $isUncovered);

        return new JsonAnswer([
            'covered' => !$isUncovered, 'total' => $across->count(ByKind::from($kind)),
            'behind' => count($page) > self::PAGE ? $shown[self::PAGE - 1]['message']->id : null,
            'messages' => array_map(
                static fn (array $one): array => self::item($chats, $view, $one['conversation'], $one['message']),
                $shown,
            ),
        ]);
    }

    /** What is looked for is sent in the body: it belongs into no log of addresses. */
    #[Route('/words', methods: ['POST'])]
    public function find(
        string $backup,
        #[MapRequestPayload('json')] WordsToFind $asked,
        Request $request,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $of = $this->open($backup);
        if (!$this->uncoverings->holds($request->getSession(), $user, What::all($of, $this->kept->isAtRest($of)))) {
            throw Refusal::because('uncover_to_find');
        }
        $words = trim(mb_scrub($asked->words));
        if (mb_strlen($words) < self::FEWEST) {
            throw Refusal::because('too_few_letters');
        }
        $chats = $this->files->chats($of);
        $found = (new AcrossChats($chats))->find($words, $asked->behind, self::PAGE);
        $view = new MessageView($chats, true);

        return new JsonAnswer([
            'behind' => $found['behind'],
            'messages' => array_map(static fn (array $one): array => [
                ...self::item($chats, $view, $one['conversation'], $one['message']), 'parts' => $one['parts'],
            ], $found['found']),
        ]);
    }

    #[Route('/uncovered', methods: ['PUT'])]
    public function uncover(string $backup, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $of = $this->open($backup);
        $lease = $this->uncoverings->begin(
            $request->getSession(), $user, What::all($of, $this->kept->isAtRest($of)),
            new Noted('uncovered_all', 'covered_all', ['edition' => $of->edition, 'serial' => $of->serial]),
        );

        return new JsonAnswer(['covered' => false, 'lease' => $lease]);
    }

    #[Route('/uncovered', methods: ['DELETE'])]
    public function cover(string $backup, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $of = $this->trays->backup($backup);
        $this->uncoverings->cover($request->getSession(), $user, What::all($of, $this->kept->isAtRest($of)));

        return new JsonAnswer(['covered' => true, 'lease' => null]);
    }

    /**
     * Behind the hand-over a conversation can be uncovered with a reason, and never all of them.
     *
     * @throws Refusal
     * @throws NotFoundHttpException
     */
    private function open(string $backup): Backup
    {
        $of = $this->trays->backup($backup);

        return !$this->kept->isAtRest($of) ? $of : throw Refusal::because('tray_closed');
    }

    /** @return array<string, mixed> */
    private static function item(ChatStore $chats, MessageView $view, int $conversation, StoredMessage $message): array
    {
        return [
            'conversation' => $conversation, 'title' => mb_strcut(mb_scrub($chats->titleOf($conversation)), 0, 200),
            'message' => $view->of($conversation, $message),
        ];
    }
}
