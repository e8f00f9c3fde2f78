<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Customer\KeptBackups;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\User;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Http\Body\Uncovering;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Http\Time;
use Geschenk\App\Log\LogNames;
use Geschenk\App\Refusal;
use Geschenk\App\Shop;
use Geschenk\App\Uncover\Noted;
use Geschenk\App\Uncover\Uncoverings;
use Geschenk\App\Uncover\What;
use Geschenk\App\View\MessageView;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Core\Exception\AccessDeniedException;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** Looking into a backup. Texts stay covered until somebody uncovers a conversation, which is logged. */
#[Route('/api/backups/{backup<[0-9a-f-]{36}>}')]
final readonly class ChatController
{
    private const PAGE = 500;

    public function __construct(
        private Trays $trays,
        private MoveFiles $files,
        private Uncoverings $uncoverings,
        private LogNames $names,
        private KeptBackups $kept,
    ) {
    }

    #[Route('/conversations', methods: ['GET'])]
    public function conversations(string $backup): JsonResponse
    {
        $chats = $this->files->chats($this->trays->backup($backup));
        $rows = array_map(static fn (array $row): array => [
            ...array_diff_key($row, ['key' => 1]), 'first_at' => Time::ofMilliseconds($row['first_at']),
            'last_at' => Time::ofMilliseconds($row['last_at']), 'title' => null === $row['title']
                ? null
                : mb_scrub($row['title']), 'labels' => array_map(mb_scrub(...), $row['labels']),
        ], $chats->overview());
        $summary = $chats->summary();

        return new JsonAnswer(
            [
                'conversations' => $rows, 'messages_by_kind' => (object) $summary['messages_by_kind'],
                'findings' => array_map(
                    static fn (array $f): array => [
                        'code' => $f['code'], 'subject' => $f['subject'], 'count' => $f['count'],
                    ],
                    $chats->findings(),
                ),
            ],
        );
    }

    #[Route('/conversations/{id<\d{1,12}>}/messages', methods: ['GET'])]
    public function messages(
        string $backup,
        int $id,
        Request $request,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $of = $this->trays->backup($backup);
        $chats = $this->files->chats($of);
        $chats->hasConversation($id) ?: throw new NotFoundHttpException('no_such_conversation');
        $from = max(1, $request->query->getInt('from', 1));
        $limit = max(1, min(self::PAGE, $request->query->getInt('limit', 100)));
        // Covered unless it is asked for otherwise: what was left uncovered is covered when somebody comes back.
        $isUncovered = $request->query->getBoolean('uncovered')
            && $this->uncoverings->holds($request->getSession(), $user, $this->what($of, $id));
        $view = new MessageView($chats, $isUncovered);
        $messages = [];
        foreach ($chats->glimpses($id, $from, $limit) as $stored) {
            $messages[] = $view->of($id, $stored);
        }

        return new JsonAnswer(
            ['total' => $chats->messageCount($id), 'covered' => !$isUncovered, 'messages' => $messages],
        );
    }

    /** Where in a conversation a day of the shop begins. */
    #[Route('/conversations/{id<\d{1,12}>}/place', methods: ['GET'])]
    public function place(string $backup, int $id, Request $request): JsonResponse
    {
        $day = Shop::day($request->query->getString('day')) ?? throw Refusal::because('no_day');

        return new JsonAnswer(
            ['place' => $this->files->chats($this->trays->backup($backup))->placeAt($id, $day->getTimestamp() * 1000)],
        );
    }

    #[Route('/conversations/{id<\d{1,12}>}/uncovered', methods: ['PUT'])]
    public function uncover(
        string $backup,
        int $id,
        Request $request,
        #[CurrentUser] User $user,
        #[MapRequestPayload('json')] ?Uncovering $asked = null,
    ): JsonResponse {
        $of = $this->trays->backup($backup);
        $this->files->chats($of)->messageCount($id) > 0 ?: throw new NotFoundHttpException('no_such_conversation');
        $reason = mb_scrub(trim($asked->reason ?? ''));
        $isClosed = $this->kept->isAtRest($of);
        if ($isClosed && User::MANAGER !== $user->role()) {
            throw new AccessDeniedException();
        }
        if ($isClosed && '' === $reason) {
            throw Refusal::because('reason_needed');
        }
        $lease = $this->uncoverings->begin(
            $request->getSession(), $user, $this->what($of, $id),
            new Noted(
                $isClosed ? 'uncovered_closed' : 'uncovered', 'covered',
                $this->told($of, $id) + ($isClosed ? ['reason' => $reason] : []),
            ),
        );

        return new JsonAnswer(['covered' => false, 'lease' => $lease]);
    }

    #[Route('/conversations/{id<\d{1,12}>}/uncovered', methods: ['DELETE'])]
    public function cover(string $backup, int $id, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $of = $this->trays->backup($backup);
        $this->uncoverings->cover($request->getSession(), $user, $this->what($of, $id));

        return new JsonAnswer(['covered' => true, 'lease' => null]);
    }

    /** The small picture of an attachment, while its conversation is uncovered. */
    #[Route('/conversations/{id<\d{1,12}>}/previews/{message<\d{1,12}>}', methods: ['GET'])]
    public function preview(
        string $backup,
        int $id,
        int $message,
        Request $request,
        #[CurrentUser] User $user,
    ): Response {
        $of = $this->trays->backup($backup);
        $session = $request->getSession();
        if (!$this->uncoverings->holds($session, $user, $this->what($of, $id))
            && !$this->uncoverings->holds($session, $user, What::all($of, $this->kept->isAtRest($of)))) {
            throw new NotFoundHttpException('covered');
        }
        $preview = $this->files->chats($of)->previewIn($id, $message);
        if (null === $preview || !str_starts_with($preview, "\xFF\xD8\xFF")) {
            throw new NotFoundHttpException('no_preview');
        }

        return new Response($preview, 200, ['Content-Type' => 'image/jpeg']);
    }

    /** @return array<string, string> what the log says of it */
    private function told(Backup $backup, int $id): array
    {
        $title = mb_substr(mb_scrub($this->files->chats($backup)->titleOf($id)), 0, 200);

        return [
            'edition' => $backup->edition, 'serial' => $backup->serial,
            LogNames::PARAM => $this->names->keep($backup->tray->number, $title),
        ];
    }

    private function what(Backup $backup, int $id): What
    {
        return What::conversation($backup, $id, $this->kept->isAtRest($backup));
    }
}
